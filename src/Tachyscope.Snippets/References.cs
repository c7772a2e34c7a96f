using System.Globalization;
using System.Runtime.InteropServices;
using Microsoft.CodeAnalysis;

namespace Tachyscope.Snippets;

/// <summary>The framework's assemblies to compile against.</summary>
internal static class References
{
    private const string Pack = "Microsoft.NETCore.App.Ref";

    /// <summary>Those of the SDK's reference pack, where there is one for this runtime; else those that this process runs on.</summary>
    public static IEnumerable<string> OfFramework()
        => Packed() is { } pack ? Directory.EnumerateFiles(pack, "*.dll")
            : ((string?)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES") ?? "").Split(Path.PathSeparator)
                .Where(path => path.StartsWith(RuntimeEnvironment.GetRuntimeDirectory(), StringComparison.Ordinal));

    public static MetadataReference Of(string path) => MetadataReference.CreateFromFile(path);

    // shared/Microsoft.NETCore.App/VERSION lies three folders below the packs' neighbour.
    private static string? Packed()
    {
        var major = Environment.Version.Major.ToString(CultureInfo.InvariantCulture);
        var packs = Path.GetFullPath(Path.Combine(RuntimeEnvironment.GetRuntimeDirectory(), "..", "..", "..", "packs", Pack));
        return Directory.Exists(packs)
            ? Directory.EnumerateDirectories(packs, $"{major}.*").Order(StringComparer.Ordinal)
                .Select(version => Path.Combine(version, "ref", $"net{major}.0")).LastOrDefault(Directory.Exists)
            : null;
    }
}
