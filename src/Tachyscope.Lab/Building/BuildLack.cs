using System.Text.RegularExpressions;
using Tachyscope.Lab.Processes;
using Tachyscope.Working;

namespace Tachyscope.Lab.Building;

/// <summary>
/// Says in one sentence what a build lacks, an SDK, our own package or a Main, which the dotnet command tells in many lines or without
/// a way out.
/// </summary>
internal static partial class BuildLack
{
    /// <summary>What is wrong, with the way out; null when it is something else.</summary>
    public static string? In(FinishedCommand command)
        => Requested().Match(command.All) is { Success: true } asked
            ? $"global.json asks for the .NET SDK {asked.Groups[1].Value}, which is not on this machine; install it, or let global.json "
                + "roll forward."
            : command.All.Contains("No .NET SDKs were found", StringComparison.Ordinal)
                ? $"there is no .NET SDK beside {DotnetHost.Path}, only a runtime; install the .NET SDK, or name a built .dll, which "
                    + "needs none."
                : TooOld().Match(command.All) is { Success: true } old
                    ? $"the .NET SDK on this machine is too old for {old.Groups[1].Value}: install a newer one, or measure on an older "
                        + $"target, as in --target net{old.Groups[2].Value}."
                    : NotServed().Match(command.All) is { Success: true } package
                        ? $"no package source of this machine has {package.Groups[1].Value} ({package.Groups[2].Value}); add the folder or "
                            + "server that the tool came from: dotnet nuget add source FOLDER."
                        : command.All.Contains("error CS5001", StringComparison.Ordinal)
                            ? "it has no Main to measure its studies with; add one that ends with: return await Studies.RunAsync(args, …)"
                                + "; tachyscope new NAME begins such a project."
                            : null;

    [GeneratedRegex(@"Requested SDK version: (\S+)")]
    private static partial Regex Requested();

    [GeneratedRegex(@"NU1101: Unable to find package (Tachyscope[\w.]*?)\. "
        + @"No packages exist with this id in source\(s\): ([^\r\n\[]*[^\r\n\[ .])")]
    private static partial Regex NotServed();

    [GeneratedRegex(@"NETSDK1045: The current \.NET SDK does not support targeting (\.NET[\w ]* [\d.]+\d)\.\s+"
        + @"Either target \.NET[\w ]* ([\d.]+\d)")]
    private static partial Regex TooOld();
}
