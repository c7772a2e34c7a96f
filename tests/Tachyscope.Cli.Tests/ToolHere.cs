using System.Runtime.CompilerServices;
using Tachyscope.Lab.Building;

namespace Tachyscope.Cli.Tests;

/// <summary>
/// The tool from the command line to the exit code within this process: what it is made of is compiled once for all tests instead of
/// anew for each. What a process of its own does with its signals, streams and environment is tested in one.
/// </summary>
internal static class ToolHere
{
    public static Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] arguments)
        => RunAsync(arguments, BuildCache.DefaultFolder);

    /// <summary>Runs a command line.</summary>
    /// <param name="arguments">What follows the tool's name.</param>
    /// <param name="cache">Where builds are kept.</param>
    /// <param name="clock">The clock that measuring goes by; the system's by default.</param>
    /// <param name="cancellation">Interrupts it, as Ctrl-C would.</param>
    public static async Task<(int ExitCode, string Output, string Error)> RunAsync(
        string[] arguments, string cache, TimeProvider? clock = null, CancellationToken cancellation = default)
    {
        var (output, error) = (new StringWriter(), new StringWriter());
        var around = new Surroundings { Output = output, Error = error, Cache = cache, Clock = clock ?? TimeProvider.System };
        var exitCode = await Tool.InvokeAsync(arguments, around, cancellation);
        return (exitCode, output.ToString(), error.ToString());
    }

    // Many small builds: the compiler's own start would take half of their time.
    [ModuleInitializer]
    internal static void ShareCompiler() => Environment.SetEnvironmentVariable("UseSharedCompilation", "true");
}
