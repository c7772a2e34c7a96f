using System.Diagnostics;
using Tachyscope.Lab.Storing;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on several real targets: revisions of a small repository, runtimes, switches, compiled ahead of time; built once for all.</summary>
public sealed class TargetTests : IClassFixture<TargetTests.SmallRepository>
{
    private readonly SmallRepository _repository;

    public TargetTests(SmallRepository repository) => _repository = repository;

    [Fact]
    public async Task Two_revisions_duel_each_variant_against_itself_and_the_repository_is_left_alone()
    {
        var (exitCode, output, error) = await RunAsync("duel", "old", "new", _repository.Study, "--within", "6s", "--out", _repository.Saved);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(@"\n  sum +\S", output);
        Assert.Matches(@"\n  oldest +\S.* not there", output);
        Assert.Matches(@"\n  newest +not there +\S", output);
        Assert.Contains("only old has \"only old\", which is not measured", output, StringComparison.Ordinal);
        Assert.Contains("only new has \"only new\", which is not measured", output, StringComparison.Ordinal);
        var run = RunFile.Read(_repository.Saved);
        Assert.Equal(["old", "new"], run.Targets.Select(target => target.Name));
        Assert.True(run.Plan.WithinSeconds > 5, "Building is not measuring.");
        Assert.Equal("", _repository.Git("status", "--short"));
        Assert.Single(_repository.Git("worktree", "list").Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.DoesNotContain(Directory.EnumerateDirectories(_repository.Folder, "*", SearchOption.AllDirectories), folder => Path.GetFileName(folder) is "bin" or "obj");
    }

    [Fact]
    public async Task A_work_tree_with_changes_is_measured_as_it_is_under_todays_study_and_an_answer_that_changed_fails()
    {
        _repository.Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => 1; }");
        try
        {
            var (exitCode, output, error) = await RunAsync("duel", "old", "now", _repository.Study, "--study", "now", "--only", "sum*", "--within", "4s");

            Assert.True(exitCode == ExitCode.Failed, error + output);
            Assert.Contains("newest on now (64 levels): answers 1 where it answers 4160 on old", output, StringComparison.Ordinal);
            Assert.Matches(@"commit +[0-9a-f]{10} +[0-9a-f]{10} with changes", output);
            Assert.DoesNotContain("oldest", output, StringComparison.Ordinal);
        }
        finally
        {
            _repository.Git("checkout", "-q", "--", ".");
        }
    }

    [Fact]
    public async Task Runtimes_and_switches_are_measured_together_and_what_does_not_compile_is_told()
    {
        var (exitCode, output, error) = await RunAsync(
            "run", _repository.Study, "--only", "sum*", "--within", "6s", "--out", _repository.Saved,
            "--target", "net8.0", "--target", "net10.0,switch:TieredPGO=0,name=unprofiled", "--target", "net10.0,define=BROKEN,name=broken");

        Assert.True(exitCode == ExitCode.CouldNotRun, error + output);
        Assert.Contains("does not build for broken:", error, StringComparison.Ordinal);
        Assert.Contains("error CS1029: #error: ", error, StringComparison.Ordinal);
        var targets = RunFile.Read(_repository.Saved).Targets;
        Assert.Equal(["net8.0", "unprofiled"], targets.Select(target => target.Name));
        Assert.StartsWith(".NET 8.0.", targets[0].Environment.Runtime, StringComparison.Ordinal);
        Assert.Equal(["net8.0", "net10.0"], targets.Select(target => target.Environment.Framework));
        Assert.Equal(new SwitchState("TieredPGO", "0", true), Assert.Single(targets[1].Switches));
        Assert.Contains("On unprofiled, against net8.0: ", output, StringComparison.Ordinal);
        var (_, reported, _) = await RunAsync("report", _repository.Saved, "--figures");
        Assert.Contains("sum of tides on unprofiled", reported, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_compiled_ahead_of_time_gets_the_instructions_that_the_other_uses()
    {
        Assert.True(IsThere("clang") || IsThere("gcc"), "Compiling ahead of time needs a linker: apt-get install gcc, or clang.");
        var (exitCode, output, error) = await RunAsync(
            "run", _repository.Study, "--only", "sum*", "--within", "4s", "--out", _repository.Saved, "--target", "net10.0", "--target", "net10.0,aot,name=ahead");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        var (jit, ahead) = (RunFile.Read(_repository.Saved).Targets[0].Environment, RunFile.Read(_repository.Saved).Targets[1].Environment);
        Assert.Equal((false, true), (jit.IsAheadOfTime, ahead.IsAheadOfTime));
        // Otherwise the contrast would not be fair; what cannot be made equal is told.
        Assert.Equal(jit.VectorBits, ahead.VectorBits);
        Assert.Equal(!jit.InstructionSets.ToHashSet().SetEquals(ahead.InstructionSets), output.Contains("caveat instructions-differ – ahead: ", StringComparison.Ordinal));
        Assert.Matches(@"machine code +just in time +ahead of time", output);
    }

    private static bool IsThere(string command)
        => Environment.GetEnvironmentVariable("PATH")!.Split(Path.PathSeparator).Any(folder => File.Exists(Path.Combine(folder, command)));

    [Theory]
    [InlineData("net7.0", "net7.0: there is no runtime net7.0; installed are ")]
    [InlineData("rev=v99", "there is no revision v99 in ", "; there are main, ", "old")]
    [InlineData("compiler=4.99.0", "there is no compiler 4.99.0; Microsoft.CodeAnalysis.CSharp is served in ")]
    [InlineData("net10.0,switch:TieredPOG=0", "is TieredPGO meant?")]
    public async Task What_does_not_exist_is_answered_with_what_does(string target, params string[] told)
    {
        var (exitCode, _, error) = await RunAsync("run", _repository.Study, "--target", target, "--within", "5s");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.All(told, text => Assert.Contains(text, error, StringComparison.Ordinal));
    }

    private Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] arguments)
        => ToolProcess.RunAsync([ToolProcess.Tool, .. arguments, "--plain"], $"TACHYSCOPE_CACHE={Path.Combine(_repository.All, "cache")}");

    public sealed class SmallRepository : IDisposable
    {
        public SmallRepository()
        {
            Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => levels.Where(level => level > 0).Select(level => level * 2).Sum(); }");
            Write("tides/Tides.csproj", "<Project Sdk=\"Microsoft.NET.Sdk\"><PropertyGroup><TargetFramework>net8.0</TargetFramework><ImplicitUsings>enable</ImplicitUsings></PropertyGroup></Project>");
            Write("study/Study.csproj", $"""
                <Project Sdk="Microsoft.NET.Sdk">
                  <PropertyGroup><OutputType>Exe</OutputType><TargetFrameworks>net8.0;net10.0</TargetFrameworks><ImplicitUsings>enable</ImplicitUsings></PropertyGroup>
                  <ItemGroup><ProjectReference Include="../tides/Tides.csproj" /><Reference Include="{Library}" /></ItemGroup>
                </Project>
                """);
            Write("study/Program.cs", Program("""Study.Of("only old").Input("x", () => 3).Baseline("id", x => x + 1)""", "oldest"));
            Git("init", "-q", "-b", "main", ".");
            Commit("old");
            Write("tides/Tides.cs", """
                public static class Tides
                {
                    public static int Sum(int[] levels)
                    {
                        var sum = 0;
                        foreach (var level in levels)
                        {
                            sum += level > 0 ? level * 2 : 0;
                        }

                        return sum;
                    }
                }
                """);
            Write("study/Program.cs", Program("""Study.Of("only new").Input("x", () => 3).Baseline("id", x => x + 1)""", "newest"));
            Commit("new");
        }

        public string All { get; } = Directory.CreateTempSubdirectory("tachyscope ü").FullName;

        public string Folder => Path.Combine(All, "Hafen am Ufer");

        public string Study => Path.Combine(Folder, "study");

        public string Saved => Path.Combine(All, "run.json");

        // The library for the oldest framework runs on all of them.
        private static string Library => Path.Combine(Path.GetDirectoryName(ToolProcess.Tool)!, "..", "..", "Tachyscope", $"{Path.GetFileName(Path.GetDirectoryName(ToolProcess.Tool))}_net8.0", "Tachyscope.dll");

        public void Dispose()
        {
            // Git's own files are read-only.
            foreach (var file in Directory.EnumerateFiles(All, "*", SearchOption.AllDirectories))
            {
                File.SetAttributes(file, FileAttributes.Normal);
            }

            Directory.Delete(All, recursive: true);
        }

        public void Write(string name, string content)
        {
            var path = Path.Combine(Folder, name);
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.WriteAllText(path, content);
        }

        public string Git(params string[] arguments)
        {
            using var process = Process.Start(new ProcessStartInfo("git", ["-C", Folder, .. arguments]) { RedirectStandardOutput = true })!;
            var output = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            Assert.Equal(0, process.ExitCode);
            return output;
        }

        private void Commit(string tag)
        {
            Git("add", "-A");
            Git("-c", "user.name=Keeper", "-c", "user.email=keeper@example.org", "commit", "-q", "-m", tag);
            Git("tag", tag);
        }

        private static string Program(string other, string row) => $$"""
            using Tachyscope;
            #if BROKEN
            #error Fog on this target.
            #endif
            return await Studies.RunAsync(args,
                Study.Of("sum of tides").Inputs("levels", [64], count => Enumerable.Range(1, count).ToArray())
                    .Baseline("sum", levels => Tides.Sum(levels)).Variant("{{row}}", levels => levels[0] - levels[0] + Tides.Sum(levels)),
                {{other}});
            """;
    }
}
