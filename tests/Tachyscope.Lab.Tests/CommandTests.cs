using Tachyscope.Lab.Building;
using Tachyscope.Lab.Processes;

namespace Tachyscope.Lab.Tests;

/// <summary>Commands that work for us, and what becomes of what they say.</summary>
public sealed class CommandTests
{
    [Fact]
    public async Task A_registry_that_answers_otherwise_counts_as_none()
        => Assert.Empty(await Registry.VersionsAsync(
            (_, _) => Task.FromResult(new FinishedCommand(0, "Welcome to .NET!\n{", "a notice")), "Lamp.Oil", CancellationToken.None));

    [Theory]
    [InlineData("The command could not be loaded, possibly because:\n  * You intended to execute a .NET SDK command:\n      No .NET "
        + "SDKs were found.\n", "there is no .NET SDK beside ")]
    [InlineData("A compatible .NET SDK was not found.\n\nRequested SDK version: 9.0.999\nglobal.json file: /lamps/global.json\n",
        "global.json asks for the .NET SDK 9.0.999, which is not on this machine")]
    [InlineData("Sdk.targets(199,5): error NETSDK1045: The current .NET SDK does not support targeting .NET 11.0.  Either target .NET "
        + "10.0 or lower, or use a version", "the .NET SDK on this machine is too old for .NET 11.0: install a newer one, or measure on "
        + "an older target, as in --target net10.0.")]
    [InlineData("/lamps/lamps.csproj : error NU1101: Unable to find package Tachyscope. No packages exist with this id in source(s): "
        + "harbour, nuget.org [/lamps/lamps.csproj]\n", "no package source of this machine has Tachyscope (harbour, nuget.org); add the "
        + "folder or server that the tool came from: dotnet nuget add source FOLDER.")]
    [InlineData("/lamps/lamps.csproj : error NU1101: Unable to find package Lamps. No packages exist with this id in source(s): a", null)]
    [InlineData("CSC : error CS5001: Program does not contain a static 'Main' method suitable for an entry point",
        "it has no Main to measure its studies with; add one that ends with: return await Studies.RunAsync(args, …)")]
    [InlineData("Program.cs(1,8): error CS0103: The name 'fog' does not exist", null)]
    public void What_a_build_lacks_is_told_in_one_sentence(string output, string? expected)
    {
        var told = BuildLack.In(new FinishedCommand(1, "", output));

        Assert.True(expected is null ? told is null : told!.StartsWith(expected, StringComparison.Ordinal), told);
    }

    [Theory]
    [InlineData("", "there is no home folder to keep builds in (HOME is not set); set it, or name a folder with TACHYSCOPE_CACHE.")]
    [InlineData("/proc/fog", "builds cannot be kept in /proc/fog (")]
    public void A_place_that_cannot_keep_builds_is_told_with_the_way_out(string cache, string expected)
        => Assert.StartsWith(expected, BuildCache.ProblemOf(cache), StringComparison.Ordinal);

    [Theory]
    [InlineData(true, true, "x86-64-v4")]
    [InlineData(true, false, "x86-64-v3")]
    [InlineData(false, false, "x86-64-v2")]
    public void What_is_compiled_ahead_gets_vectors_as_wide_as_the_other_compiler_prefers(bool hasAvx2, bool usesAvx512, string expected)
        => Assert.Equal(expected, ProcessorInstructions.OfX86(hasAvx2, usesAvx512).InstructionSet);

    [Fact]
    public void An_arm_processor_is_named_by_its_parts()
    {
        Assert.Equal("aes,dotprod,lse,rdma,sha2", ProcessorInstructions.OfArm(true, true, true, true, true).InstructionSet);
        Assert.Null(ProcessorInstructions.OfArm(true, false, false, false, false).InstructionSet);
    }
}
