using System.Diagnostics;
using Tachyscope.Lab.Storing;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on several targets: revisions of a small repository, runtimes, switches, compiled ahead of time.</summary>
public sealed class TargetTests : IDisposable
{
    private readonly string _all = Directory.CreateTempSubdirectory("tachyscope ü").FullName;
    private readonly string _repository;
    private readonly string _study;

    public TargetTests()
    {
        (_repository, _study) = (Path.Combine(_all, "Hafen am Ufer"), Path.Combine(_all, "Hafen am Ufer", "study"));
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

    // The library for the oldest framework runs on all of them.
    private static string Library => Path.Combine(Path.GetDirectoryName(ToolProcess.Tool)!, "..", "..", "Tachyscope", $"{Path.GetFileName(Path.GetDirectoryName(ToolProcess.Tool))}_net8.0", "Tachyscope.dll");

    private string Saved => Path.Combine(_all, "run.json");

    public void Dispose()
    {
        // Git's own files are read-only.
        foreach (var file in Directory.EnumerateFiles(_all, "*", SearchOption.AllDirectories))
        {
            File.SetAttributes(file, FileAttributes.Normal);
        }

        Directory.Delete(_all, recursive: true);
    }

    [Fact]
    public async Task Two_revisions_duel_each_variant_against_itself_and_the_repository_is_left_alone()
    {
        var (exitCode, output, error) = await RunAsync("duel", "old", "new", _study, "--within", "60s", "--out", Saved);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(@"\n  sum +.*→ 0 B +▲ faster", output);
        Assert.Matches(@"\n  oldest +\S.* not there", output);
        Assert.Matches(@"\n  newest +not there +\S", output);
        Assert.Contains("only old has \"only old\", which is not measured", output, StringComparison.Ordinal);
        Assert.Contains("only new has \"only new\", which is not measured", output, StringComparison.Ordinal);
        Assert.Equal(["old", "new"], RunFile.Read(Saved).Targets.Select(target => target.Name));
        Assert.Equal("", Git("status", "--short"));
        Assert.Single(Git("worktree", "list").Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.DoesNotContain(Directory.EnumerateDirectories(_repository, "*", SearchOption.AllDirectories), folder => Path.GetFileName(folder) is "bin" or "obj");
    }

    [Fact]
    public async Task A_work_tree_with_changes_is_measured_as_it_is_under_todays_study_and_an_answer_that_changed_fails()
    {
        Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => 1; }");

        var (exitCode, output, error) = await RunAsync("duel", "old", "now", _study, "--study", "now", "--only", "sum*", "--within", "40s");

        Assert.True(exitCode == ExitCode.Failed, error + output);
        Assert.Contains("newest on now (64 levels): answers 1 where it answers 4160 on old", output, StringComparison.Ordinal);
        Assert.Matches(@"commit +[0-9a-f]{10} +[0-9a-f]{10} with changes", output);
        Assert.DoesNotContain("oldest", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Runtimes_and_switches_are_measured_together_and_what_does_not_compile_is_told()
    {
        var (exitCode, output, error) = await RunAsync(
            "run", _study, "--only", "sum*", "--within", "60s", "--out", Saved,
            "--target", "net8.0", "--target", "net10.0,switch:TieredPGO=0,name=unprofiled", "--target", "net10.0,define=BROKEN,name=broken");

        Assert.True(exitCode == ExitCode.CouldNotRun, error + output);
        Assert.Contains("does not build for broken:", error, StringComparison.Ordinal);
        Assert.Contains("error CS1029: #error: ", error, StringComparison.Ordinal);
        var targets = RunFile.Read(Saved).Targets;
        Assert.Equal(["net8.0", "unprofiled"], targets.Select(target => target.Name));
        Assert.StartsWith(".NET 8.0.", targets[0].Environment.Runtime, StringComparison.Ordinal);
        Assert.Equal(["net8.0", "net10.0"], targets.Select(target => target.Environment.Framework));
        Assert.Equal(new SwitchState("TieredPGO", "0", true), Assert.Single(targets[1].Switches));
        Assert.Contains("On unprofiled, against net8.0: ", output, StringComparison.Ordinal);
        var (_, reported, _) = await RunAsync("report", Saved, "--figures");
        Assert.Contains("sum of tides on unprofiled", reported, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_compiled_ahead_of_time_gets_the_instructions_that_the_other_uses()
    {
        Assert.SkipUnless(IsThere("clang") || IsThere("gcc"), "Compiling ahead of time needs a linker: clang or gcc.");
        var (exitCode, output, error) = await RunAsync("run", _study, "--only", "sum*", "--within", "60s", "--out", Saved, "--target", "net10.0", "--target", "net10.0,aot,name=ahead");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        var targets = RunFile.Read(Saved).Targets;
        Assert.Equal((false, true), (targets[0].Environment.IsAheadOfTime, targets[1].Environment.IsAheadOfTime));
        // Otherwise the contrast would not be fair.
        Assert.Equal(targets[0].Environment.VectorBits, targets[1].Environment.VectorBits);
        Assert.Matches(@"machine code +just in time +ahead of time", output);
    }

    private static bool IsThere(string command)
        => Environment.GetEnvironmentVariable("PATH")!.Split(Path.PathSeparator).Any(folder => File.Exists(Path.Combine(folder, command)));

    [Theory]
    [InlineData("net7.0", "net7.0: there is no runtime net7.0; installed are ")]
    [InlineData("rev=v99", "there is no revision v99 in ", "; there are main, ", "old")]
    [InlineData("compiler=4.99.0", "there is no compiler 4.99.0; Microsoft.CodeAnalysis.CSharp is served in ")]
    [InlineData("package:Lamp.Oil=1.0.0", "the project references no package Lamp.Oil; it references none.")]
    [InlineData("net10.0,switch:TieredPOG=0", "is TieredPGO meant?")]
    public async Task What_does_not_exist_is_answered_with_what_does(string target, params string[] told)
    {
        var (exitCode, _, error) = await RunAsync("run", _study, "--target", target, "--within", "5s");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.All(told, text => Assert.Contains(text, error, StringComparison.Ordinal));
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

    private Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] arguments)
        => ToolProcess.RunAsync([ToolProcess.Tool, .. arguments, "--plain"], $"TACHYSCOPE_CACHE={Path.Combine(_all, "cache")}");

    private void Write(string name, string content)
    {
        var path = Path.Combine(_repository, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, content);
    }

    private void Commit(string tag)
    {
        Git("add", "-A");
        Git("-c", "user.name=Keeper", "-c", "user.email=keeper@example.org", "commit", "-q", "-m", tag);
        Git("tag", tag);
    }

    private string Git(params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("git", ["-C", _repository, .. arguments]) { RedirectStandardOutput = true })!;
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
        return output;
    }
}
