using System.Collections.Concurrent;
using System.Reflection;

namespace Tachyscope.Working;

/// <summary>Studies that assemblies told of when they were loaded, in code that the package's generator wrote into them.</summary>
internal static class FoundStudies
{
    private static readonly ConcurrentDictionary<Assembly, Func<IReadOnlyList<Study>>> s_told = new();

    public static void Add(Assembly assembly, Func<IReadOnlyList<Study>> studies) => s_told[assembly] = studies;

    /// <summary>Those of an assembly; none where it told of none.</summary>
    public static IReadOnlyList<Study> Of(Assembly? assembly)
        => assembly is not null && s_told.TryGetValue(assembly, out var studies) ? studies() : [];
}
