using System.Globalization;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on twelve commits, one of which made an operation allocate more.</summary>
public sealed class PinpointTests : IClassFixture<PinpointTests.LongRepository>
{
    private const int Changed = 5;
    private const int Last = 12;
    private const int Broken = 6;

    private readonly LongRepository _repository;

    public PinpointTests(LongRepository repository) => _repository = repository;

    [Fact]
    public async Task The_commit_that_made_it_allocate_more_is_found_past_one_that_does_not_build()
    {
        var (exitCode, output, error) = await _repository.RunAsync("pinpoint", "HEAD~12", "HEAD", _repository.Study, "--follow", "bytes",
            "--cell", "sum of lamps");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Contains("HEAD~12 to HEAD: sum of lamps · kept · 64 lamps allocates 32 B → 40 B; 12 commits, about 4 to measure", output,
            StringComparison.Ordinal);
        Assert.Matches("[0-9a-f]{8} does not build: Lamps.cs.1,.*error", output);
        Assert.Matches($"sum of lamps · ▼ kept · 64 lamps allocates more, 32 B → 40 B, with [0-9a-f]{{8}} of .*: \"lamps {Changed}\"",
            output);
        Assert.Matches("12 commits after HEAD~12: [3-6] measured, [1-9] more of the same compiled code\n", output);
        // What a commit is held beside is what was asked for.
        Assert.Contains($"40 B where there are 40 B at {_repository.Git("rev-parse", "HEAD")[..8]}", output, StringComparison.Ordinal);
        Assert.Contains($"32 B where there are 32 B at {_repository.Git("rev-parse", "HEAD~12")[..8]}", output, StringComparison.Ordinal);
        Assert.Equal("", _repository.Git("status", "--short"));
        Assert.Equal("", error);
    }

    [Fact]
    public async Task Where_the_studys_own_folder_alone_changed_each_commit_has_its_own_study()
    {
        var (exitCode, output, error) = await _repository.RunAsync(
            "pinpoint", "inside~2", "inside~1", _repository.Study, "--follow", "bytes");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches("sum of lamps · ▼ plain · 64 lamps allocates more, 0 B → [0-9]+ B, with [0-9a-f]{8} of .*: \"inside 2\"", output);
    }

    [Theory]
    [InlineData("HEAD", "HEAD~3", "HEAD comes after HEAD~3; write the earlier revision first.")]
    [InlineData("HEAD", "HEAD", "HEAD and HEAD are the same commit; name two that differ.")]
    [InlineData("aground", "HEAD", "there is no revision aground in ")]
    [InlineData("HEAD", "aside", "HEAD is no ancestor of aside, so that no row of commits leads from one to the other; ")]
    [InlineData("HEAD~1", "HEAD", "HEAD~1 and HEAD compile to the same code, so that no commit between them changed anything.",
        ExitCode.Failed)]
    [InlineData("inside~1", "inside", "inside~1 and inside compile to the same code with one study laid over both; what changed in the "
        + "study's own folder is looked for with --study own.", ExitCode.Failed)]
    public async Task Revisions_between_which_there_is_nothing_to_search_are_told(
        string good, string bad, string problem, int expected = ExitCode.WrongUse)
    {
        var (exitCode, output, error) = await _repository.RunAsync("pinpoint", good, bad, _repository.Study);

        Assert.Equal(expected, exitCode);
        Assert.Contains($"tachyscope: {problem}", error, StringComparison.Ordinal);
        Assert.Equal("", output);
    }

    public sealed class LongRepository : Repository
    {
        public LongRepository()
        {
            Begin();
            Write("study/Study.csproj", $"""
                <Project Sdk="Microsoft.NET.Sdk">
                  <PropertyGroup>
                    <OutputType>Exe</OutputType><TargetFramework>net10.0</TargetFramework><ImplicitUsings>enable</ImplicitUsings>
                  </PropertyGroup>
                  <ItemGroup><Compile Include="../Lamps.cs" /><Reference Include="{ToolProcess.Library}" /></ItemGroup>
                </Project>
                """);
            Write("study/Program.cs", """
                using Tachyscope;
                return await Studies.RunAsync(args, Study.Of("sum of lamps")
                    .Inputs("lamps", [64], count => Enumerable.Range(1, count).ToArray())
                    .Baseline("plain", lamps => lamps.Length)
                    .Variant("kept", lamps => Lamps.Count(lamps)));
                """);
            for (var number = 0; number <= Last; number++)
            {
                // Most change no code, some change code and no cell, and the middle one does not build.
                var (bytes, code) = (number < Changed ? 4 : 12, Math.Min(number, Last - 1) / 3);
                Write("Lamps.cs", string.Create(CultureInfo.InvariantCulture,
                    $"{(number == Broken ? "fog " : "")}public static class Lamps {{ public const int Number = {code}; "
                        + $"static object? kept; "
                        + $"public static int Count(int[] lamps) {{ kept = new byte[{bytes}]; return lamps.Length; }} }}"));
                Write("notes.md", string.Create(CultureInfo.InvariantCulture, $"{number}"));
                Commit(string.Create(CultureInfo.InvariantCulture, $"lamps {number}"));
            }

            Git("branch", "aside", "HEAD~3");
            Git("checkout", "-q", "aside");
            Write("notes.md", "aside");
            Commit("aside");
            Git("checkout", "-q", "-b", "inside", "main");
            var study = File.ReadAllText(Path.Combine(Study, "Program.cs"));
            for (var number = 1; number <= 3; number++)
            {
                Write("study/Program.cs", $"// {number}\n" + (number < 2 ? study
                    : study.Replace("lamps => lamps.Length", $"lamps => new string('.', {number} * lamps.Length).Length / {number}",
                        StringComparison.Ordinal)));
                if (number == 3)
                {
                    Write("notes.md", "inside");
                }

                Commit(string.Create(CultureInfo.InvariantCulture, $"inside {number}"));
            }

            Git("checkout", "-q", "main");
        }
    }
}
