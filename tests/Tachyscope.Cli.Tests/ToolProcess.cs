using System.Diagnostics;
using System.Runtime.InteropServices;
using Tachyscope.Working;

namespace Tachyscope.Cli.Tests;

/// <summary>Starts built programs as a user would and keeps what they wrote.</summary>
internal static class ToolProcess
{
    private const int Interrupt = 2;
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(4);

    private static readonly string Output = Path.GetDirectoryName(typeof(ToolProcess).Assembly.Location)!;
    private static readonly string Configuration = Path.GetFileName(Output);

    public static string Tool => Built("Tachyscope.Cli");

    public static string Mishaps => Built("Tachyscope.Mishaps");

    public static string Demo => Built("SignalStation");

    public static Task<(int ExitCode, string Output, string Error)> RunToolAsync(params string[] arguments) => RunAsync([Tool, .. arguments]);

    public static Task<(int ExitCode, string Output, string Error)> RunOnOneProcessorAsync(string[] command)
        => StartAsync(new ProcessStartInfo("taskset", ["-c", "0", DotnetHost.Path, "exec", .. command]), null, null);

    /// <summary>Runs an assembly; an environment variable is given as NAME=VALUE, an interruption when asked for.</summary>
    /// <param name="command">The assembly and its arguments.</param>
    /// <param name="variable">A variable of its environment.</param>
    /// <param name="interruptWhen">Asked every now and then, with its process, whether to interrupt it.</param>
    /// <param name="watch">Called every now and then with its process.</param>
    public static Task<(int ExitCode, string Output, string Error)> RunAsync(
        string[] command, string? variable = null, Func<bool>? interruptWhen = null, Action<int>? watch = null)
    {
        bool Watch(int process)
        {
            watch?.Invoke(process);
            return interruptWhen?.Invoke() == true;
        }

        return StartAsync(new ProcessStartInfo(DotnetHost.Path, ["exec", .. command]), variable, interruptWhen is null && watch is null ? null : Watch);
    }

    private static async Task<(int ExitCode, string Output, string Error)> StartAsync(ProcessStartInfo start, string? variable, Func<int, bool>? interruptWhen)
    {
        start.RedirectStandardOutput = true;
        start.RedirectStandardError = true;
        if (variable?.Split('=') is [var name, var value])
        {
            start.Environment[name] = value;
        }

        using var process = Process.Start(start)!;
        using var timer = new CancellationTokenSource(Longest);
        try
        {
            var error = process.StandardError.ReadToEndAsync(timer.Token);
            var output = process.StandardOutput.ReadToEndAsync(timer.Token);
            while (interruptWhen is not null && !process.HasExited)
            {
                await Task.Delay(20, timer.Token);
                if (interruptWhen(process.Id))
                {
                    Assert.Equal(0, kill(process.Id, Interrupt));
                    interruptWhen = null;
                }
            }

            await process.WaitForExitAsync(timer.Token);
            return (process.ExitCode, await output, await error);
        }
        finally
        {
            if (!process.HasExited)
            {
                process.Kill(entireProcessTree: true);
            }
        }
    }

    // Built for tests in the same configuration; the demo and the mishaps are measured, so always as they were built.
    private static string Built(string project) => Path.GetFullPath(Path.Combine(Output, "..", "..", project, Configuration, $"{project}.dll"));

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}
