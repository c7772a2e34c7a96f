using System.ComponentModel;
using System.Diagnostics;

namespace Tachyscope.Lab.Processes;

/// <summary>A process of ours with its input and outputs on pipes; whatever it started ends with it.</summary>
internal sealed class ChildProcess : IDisposable
{
    private readonly Process _process;

    private ChildProcess(Process process)
    {
        _process = process;
        Id = process.Id;
        Ended = process.WaitForExitAsync();
    }

    public int Id { get; }

    /// <summary>Over when the process is.</summary>
    public Task Ended { get; }

    public int ExitCode => _process.ExitCode;

    public Stream Input => _process.StandardInput.BaseStream;

    public Stream Output => _process.StandardOutput.BaseStream;

    public Stream Errors => _process.StandardError.BaseStream;

    /// <param name="command">Name or path of the command.</param>
    /// <param name="folder">Folder it works in; null for the caller's.</param>
    /// <param name="arguments">Its arguments.</param>
    /// <param name="change">Changes its environment, which is the caller's at first.</param>
    /// <exception cref="Win32Exception">There is no such command, or it could not be started.</exception>
    public static ChildProcess Start(
        string command, string? folder, IEnumerable<string> arguments, Action<IDictionary<string, string?>> change)
    {
        var start = new ProcessStartInfo(command, arguments)
        {
            UseShellExecute = false,
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = folder ?? "",
        };
        change(start.Environment);
        return new ChildProcess(Process.Start(start) ?? throw new Win32Exception("no process was started"));
    }

    /// <summary>What it writes until it closes that output, as text.</summary>
    /// <param name="output">Its output or its errors.</param>
    /// <param name="cancellation">Ends the reading.</param>
    public static async Task<string> TextAsync(Stream output, CancellationToken cancellation)
    {
        using var reader = new StreamReader(output);
        return await reader.ReadToEndAsync(cancellation);
    }

    /// <summary>Holds it to one processor where the system can, so that no two of its threads run at once.</summary>
    public void HoldToOneProcessor()
    {
        if (!OperatingSystem.IsLinux() && !OperatingSystem.IsWindows())
        {
            return;
        }

        try
        {
            var allowed = _process.ProcessorAffinity;
            _process.ProcessorAffinity = allowed & -allowed;
        }
        catch (Exception exception) when (exception is Win32Exception or InvalidOperationException)
        {
            // It has ended already, or may not be held.
        }
    }

    /// <summary>Waits until it has ended, but no longer than that.</summary>
    /// <param name="patience">How long.</param>
    /// <returns>Whether it has ended.</returns>
    public async Task<bool> HasEndedAsync(TimeSpan patience) => await Task.WhenAny(Ended, Task.Delay(patience)) == Ended;

    /// <summary>Ends it at once, with all it started.</summary>
    public void Kill() => _process.Kill(entireProcessTree: true);

    public void Dispose() => _process.Dispose();
}
