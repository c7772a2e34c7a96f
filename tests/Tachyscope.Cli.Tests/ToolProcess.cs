using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using Tachyscope.Working;

namespace Tachyscope.Cli.Tests;

/// <summary>Starts built programs as a user would and keeps what they wrote.</summary>
internal static class ToolProcess
{
    private const int Interrupt = 2;
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(10);

    private static readonly string Output = Path.GetDirectoryName(typeof(ToolProcess).Assembly.Location)!;
    private static readonly string Configuration = Path.GetFileName(Output);

    public static string Tool => Built("Tachyscope.Cli");

    /// <summary>The library as it travels with the tool, which runs on every framework from this one on.</summary>
    public static string Library => Path.Combine(Path.GetDirectoryName(Tool)!, "kit", "net8.0", "Tachyscope.dll");

    public static string Guests => Built("Tachyscope.Guests");

    public static string Mishaps => Built("Tachyscope.Mishaps");

    public static string Scripted => Built("Tachyscope.Scripted");

    public static string Demo => Built("SignalStation");

    public static string AcrossTargets => Built("AcrossTargets");

    public static string FromCode => Built("FromCode");

    public static string Reasons => Built("Tachyscope.Reasons");

    /// <summary>Runs an assembly; environment variables are given as NAME=VALUE, a signal is sent when asked for.</summary>
    /// <param name="command">The assembly and its arguments.</param>
    /// <param name="variable">A variable of its environment.</param>
    /// <param name="watch">Called every now and then with its process.</param>
    /// <param name="signalWhen">Asked every now and then whether to send the signal.</param>
    /// <param name="signal">The signal; an interruption by default.</param>
    public static async Task<(int ExitCode, string Output, string Error)> RunAsync(
        string[] command, string? variable = null, Action<int>? watch = null, Func<bool>? signalWhen = null, int signal = Interrupt)
    {
        string[] line = [DotnetHost.Path, "exec", .. command];
        // Whatever started the tests in the background may have had them ignore what is sent here, and a program inherits that.
        string[] heeding = signalWhen is not null && IsIgnored(signal) ? ["env", "--default-signal", .. line] : line;
        var start = new ProcessStartInfo(heeding[0], heeding[1..]) { RedirectStandardOutput = true, RedirectStandardError = true };
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
            while ((signalWhen ?? (watch is null ? null : () => false)) is { } isTime && !process.HasExited)
            {
                await Task.Delay(20, timer.Token);
                watch?.Invoke(process.Id);
                if (isTime())
                {
                    Assert.Equal(0, kill(process.Id, signal));
                    break;
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

    /// <summary>Processes that a process has started and that run.</summary>
    public static IReadOnlyList<int> Children(int parent)
    {
        try
        {
            return [.. Directory.GetDirectories($"/proc/{parent}/task")
                .SelectMany(task => File.ReadAllText(Path.Combine(task, "children")).Split(' ', StringSplitOptions.RemoveEmptyEntries))
                .Select(child => int.Parse(child, CultureInfo.InvariantCulture))];
        }
        catch (IOException)
        {
            // The process or one of its threads has just ended.
            return [];
        }
    }

    private static bool IsIgnored(int signal)
    {
        const string mask = "SigIgn:";
        var told = OperatingSystem.IsLinux()
            ? File.ReadLines("/proc/self/status").FirstOrDefault(line => line.StartsWith(mask, StringComparison.Ordinal)) : null;
        return told is not null
            && (ulong.Parse(told[mask.Length..].Trim(), NumberStyles.HexNumber, CultureInfo.InvariantCulture) >> (signal - 1)) % 2 == 1;
    }

    // Built for tests in the same configuration; the demo and the mishaps are measured, so always as they were built.
    private static string Built(string project)
        => Path.GetFullPath(Path.Combine(Output, "..", "..", project, Configuration, $"{project}.dll"));

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}
