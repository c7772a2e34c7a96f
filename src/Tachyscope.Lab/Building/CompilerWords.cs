using System.Text.RegularExpressions;

namespace Tachyscope.Lab.Building;

/// <summary>What a build that failed has to say, in the compiler's own words.</summary>
internal static partial class CompilerWords
{
    private const int MostErrors = 8;

    /// <summary>The errors, without the project that every line repeats at its end; the last lines where none is marked as one.</summary>
    public static IReadOnlyList<string> Errors(string output, string project)
    {
        var folder = Path.GetDirectoryName(project) + Path.DirectorySeparatorChar;
        var errors = output.Split('\n')
            .Where(line => ErrorInLine().IsMatch(line))
            .Select(line => ProjectAtEnd().Replace(line.Trim(), "").Replace(folder, "", StringComparison.Ordinal))
            .Distinct()
            .ToList();
        return errors.Count switch
        {
            0 => [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries).TakeLast(MostErrors)],
            > MostErrors => [.. errors.Take(MostErrors), FormattableString.Invariant($"… and {errors.Count - MostErrors} more")],
            _ => errors,
        };
    }

    [GeneratedRegex(@"(^|\s|:)error(\s+\w+)?\s*:")]
    private static partial Regex ErrorInLine();

    [GeneratedRegex(@"\s*\[[^\]]*\]$")]
    private static partial Regex ProjectAtEnd();
}
