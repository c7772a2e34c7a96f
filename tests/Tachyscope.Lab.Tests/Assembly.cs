using System.Runtime.CompilerServices;

// Most of these tests wait for processes of their own.
[assembly: CollectionBehavior(MaxParallelThreads = 4)]

namespace Tachyscope.Lab.Tests;

/// <summary>What all tests that build have in common.</summary>
internal static class Assembly
{
    // Many small builds: the compiler's own start would take half of their time.
    [ModuleInitializer]
    internal static void KeepTheCompilerRunning() => Environment.SetEnvironmentVariable("UseSharedCompilation", "true");
}
