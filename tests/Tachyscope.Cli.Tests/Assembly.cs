using System.Runtime.CompilerServices;

// Most of these tests wait for processes of their own.
[assembly: CollectionBehavior(MaxParallelThreads = 6)]

namespace Tachyscope.Cli.Tests;

internal static class CacheOfTests
{
    /// <summary>Whoever runs the tests keeps a last run and what is remembered of the machine.</summary>
    [ModuleInitializer]
    public static void Use() => Environment.SetEnvironmentVariable(
        "TACHYSCOPE_CACHE", Path.Combine(Path.GetTempPath(), $"tachyscope-tests-{Environment.UserName}"));
}
