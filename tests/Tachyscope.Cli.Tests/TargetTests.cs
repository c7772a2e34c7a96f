using System.Runtime.InteropServices;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on several real targets: runtimes, switches, compiled ahead of time.</summary>
public sealed class TargetTests : IClassFixture<SmallRepository>
{
    private readonly SmallRepository _repository;

    public TargetTests(SmallRepository repository) => _repository = repository;

    [Fact]
    public async Task Runtimes_switches_and_what_is_compiled_ahead_are_measured_together_and_what_does_not_compile_is_told()
    {
        Assert.True(IsThere("clang") || IsThere("gcc"), "Compiling ahead of time needs a linker: apt-get install gcc, or clang.");
        string[] recipes = ["net8.0", "net10.0,switch:TieredPGO=0,name=unprofiled", "net10.0,aot,name=ahead",
            "net10.0,define=BROKEN,name=broken"];

        var (exitCode, output, error) = await _repository.RunAsync(
            ["run", _repository.Study, "--only", "sum*", "--within", "3s", "--out", _repository.Saved, "--show", "ground",
                .. recipes.SelectMany(recipe => (string[])["--target", recipe])]);

        Assert.True(exitCode == ExitCode.CouldNotRun, error + output);
        Assert.Contains("does not build for broken:", error, StringComparison.Ordinal);
        Assert.Contains("error CS1029: #error: ", error, StringComparison.Ordinal);
        Assert.True(File.Exists(_repository.Saved), error + output);
        var targets = RunFile.Read(_repository.Saved).Targets;
        Assert.Equal(["net8.0", "unprofiled", "ahead"], targets.Select(target => target.Name));
        Assert.StartsWith(".NET 8.0.", targets[0].Environment.Runtime, StringComparison.Ordinal);
        Assert.Equal(["net8.0", "net10.0", "net10.0"], targets.Select(target => target.Environment.Framework));
        Assert.Equal(new SwitchState("TieredPGO", "0", true), Assert.Single(targets[1].Switches));
        Assert.Contains("On unprofiled, against net8.0: ", output, StringComparison.Ordinal);
        var (jit, ahead) = (targets[1].Environment, targets[2].Environment);
        Assert.Equal((false, true), (jit.IsAheadOfTime, ahead.IsAheadOfTime));
        // Otherwise the contrast would not be fair; what cannot be made equal is told.
        Assert.Equal(jit.VectorBits, ahead.VectorBits);
        Assert.Equal(!jit.InstructionSets.ToHashSet()
            .SetEquals(ahead.InstructionSets), output.Contains("caveat instructions-differ: ahead", StringComparison.Ordinal));
        Assert.Matches(@"machine code +just in time +just in time +ahead of time", output);
        var (_, reported, _) = await _repository.RunAsync("report", _repository.Saved, "--show", "inputs");
        Assert.Contains("sum of tides on unprofiled", reported, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Code_is_read_on_an_older_runtime_and_ahead_of_time_too_and_set_against_that_of_a_newer_one()
    {
        Assert.SkipUnless(RuntimeInformation.ProcessArchitecture == Architecture.X64, "Code is counted for X64 only.");
        Assert.SkipUnless(IsThere("objdump"), "What is compiled ahead of time is read by objdump: apt-get install binutils.");

        var (exitCode, output, error) = await _repository.RunAsync(
            "code", "sum*", "--project", _repository.Study, "--show", "machine", "--target", "net8.0", "--target", "net10.0", "--target",
                "net10.0,aot,name=ahead");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Contains("on net10.0, against net8.0: ", output, StringComparison.Ordinal);
        Assert.All((string[])["net8.0", "net10.0", "ahead"], target => Assert.Matches($@" · {target}: instructions [1-9]", output));
        Assert.DoesNotContain("could not be read", output, StringComparison.Ordinal);
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
        var (exitCode, _, error) = await _repository.RunAsync("run", _repository.Study, "--target", target);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.All(told, text => Assert.Contains(text, error, StringComparison.Ordinal));
    }
}
