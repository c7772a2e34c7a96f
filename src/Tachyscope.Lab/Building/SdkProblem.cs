using System.Text.RegularExpressions;
using Tachyscope.Lab.Processes;
using Tachyscope.Working;

namespace Tachyscope.Lab.Building;

/// <summary>Says in one sentence that there is no SDK to build with, which the dotnet command tells in many lines of its own.</summary>
internal static partial class SdkProblem
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
                    : null;

    [GeneratedRegex(@"Requested SDK version: (\S+)")]
    private static partial Regex Requested();

    [GeneratedRegex(@"NETSDK1045: The current \.NET SDK does not support targeting (\.NET[\w ]* [\d.]+\d)\.\s+"
        + @"Either target \.NET[\w ]* ([\d.]+\d)")]
    private static partial Regex TooOld();
}
