using System.ComponentModel;
using System.Diagnostics;
using System.Reflection;
using System.Runtime.InteropServices;

namespace Tachyscope.Working;

/// <summary>Started by hand, a study project passes its arguments on to the tool that came with the package.</summary>
internal static class HandOver
{
    private const string ToolKey = "Tachyscope.Tool";
    private const int CouldNotRun = 3;
    private const int HangUp = 1;
    private const int Terminate = 15;

    public static async Task<int> ToToolAsync(string[] arguments)
    {
        var project = Assembly.GetEntryAssembly();
        var tool = project?.GetCustomAttributes<AssemblyMetadataAttribute>().FirstOrDefault(data => data.Key == ToolKey)?.Value;
        // The assembly beside the host that started us: what the tool starts again as a worker.
        var path = Path.Combine(AppContext.BaseDirectory, $"{project?.GetName().Name}.dll");
        if (tool is null || !File.Exists(tool))
        {
            await Console.Error.WriteLineAsync(
                $"The tachyscope tool is not at {tool ?? "any path known to this project"}; build it, or start it yourself: tachyscope "
                    + $"run {path}");
            return CouldNotRun;
        }

        return await StartAsync(tool, ["run", path, .. arguments]);
    }

    private static async Task<int> StartAsync(string tool, string[] arguments)
    {
        // The terminal sends Ctrl-C to this process as well; the tool answers it, and we wait for the tool.
        Console.CancelKeyPress += static (_, press) => press.Cancel = true;
        var start = new ProcessStartInfo(DotnetHost.Path) { UseShellExecute = false };
        foreach (var argument in (string[])["exec", tool, .. arguments])
        {
            start.ArgumentList.Add(argument);
        }

        try
        {
            using var process = Process.Start(start) ?? throw new Win32Exception();
            // What is sent to this process alone is meant for the tool.
            using var end = PosixSignalRegistration.Create(PosixSignal.SIGTERM, context => PassOn(context, process, Terminate));
            using var hangUp = PosixSignalRegistration.Create(PosixSignal.SIGHUP, context => PassOn(context, process, HangUp));
            await process.WaitForExitAsync();
            return process.ExitCode;
        }
        catch (Win32Exception exception)
        {
            await Console.Error.WriteLineAsync($"{start.FileName} could not be started: {exception.Message}");
            return CouldNotRun;
        }
    }

    private static void PassOn(PosixSignalContext context, Process process, int signal)
    {
        context.Cancel = true;
        if (OperatingSystem.IsWindows())
        {
            process.Kill();
        }
        else
        {
            _ = kill(process.Id, signal);
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}
