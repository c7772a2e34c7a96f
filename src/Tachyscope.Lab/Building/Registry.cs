using System.Text.Json;
using System.Text.RegularExpressions;
using Tachyscope.Lab.Processes;

namespace Tachyscope.Lab.Building;

/// <summary>Asks the package registries of this machine what they serve.</summary>
internal static partial class Registry
{
    private const int VersionsListed = 16;

    /// <summary>Versions of a package; none when there is no such package, or no registry could be asked.</summary>
    /// <param name="dotnet">Runs the dotnet command.</param>
    /// <param name="package">Name of the package.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<IReadOnlyList<string>> VersionsAsync(Func<string[], CancellationToken, Task<FinishedCommand>> dotnet,
        string package, CancellationToken cancellation)
    {
        var search = await dotnet(["package", "search", package, "--exact-match", "--format", "json"], cancellation);
        if (search.ExitCode != 0)
        {
            return [];
        }

        try
        {
            using var document = JsonDocument.Parse(search.Output);
            return [.. document.RootElement.GetProperty("searchResult").EnumerateArray()
                .Where(source => source.TryGetProperty("packages", out _))
                .SelectMany(source => source.GetProperty("packages").EnumerateArray())
                .Select(package => package.GetProperty("version").GetString()!)
                .Distinct()];
        }
        catch (Exception exception) when (exception is JsonException or KeyNotFoundException or InvalidOperationException)
        {
            // An SDK that answers otherwise could not be asked.
            return [];
        }
    }

    /// <summary>Versions in a message, oldest first; of many, the newest.</summary>
    public static string List(IReadOnlyList<string> versions)
    {
        var ordered = versions.OrderBy(version => Version.Parse(Numbers().Match(version).Value))
            .ThenBy(version => !version.Contains('-', StringComparison.Ordinal)).ToList();
        return ordered.Count == 0
            ? "none"
            : (ordered.Count > VersionsListed ? "older ones and " : "") + string.Join(", ", ordered.TakeLast(VersionsListed));
    }

    [GeneratedRegex(@"^\d+(\.\d+){1,3}")]
    private static partial Regex Numbers();
}
