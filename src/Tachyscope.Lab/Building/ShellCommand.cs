using System.Diagnostics;
using Tachyscope.Working;

namespace Tachyscope.Lab.Building;

/// <summary>Runs commands that work for us and keeps what they write.</summary>
internal static class ShellCommand
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(10);

    public static Task<FinishedCommand> DotnetAsync(string[] arguments, CancellationToken cancellation)
        => RunAsync(DotnetHost.Path, arguments, [], cancellation);

    /// <param name="command">Name or path of the command.</param>
    /// <param name="arguments">Its arguments.</param>
    /// <param name="variables">Variables of its environment.</param>
    /// <param name="cancellation">Ends it, and all it started.</param>
    /// <exception cref="System.ComponentModel.Win32Exception">There is no such command.</exception>
    public static async Task<FinishedCommand> RunAsync(string command, string[] arguments, (string Name, string Value)[] variables, CancellationToken cancellation)
    {
        var start = new ProcessStartInfo(command, arguments)
        {
            UseShellExecute = false, RedirectStandardOutput = true, RedirectStandardError = true, RedirectStandardInput = true,
        };
        foreach (var (name, value) in variables)
        {
            start.Environment[name] = value;
        }

        // Messages are shown to the user but also searched for errors, so they have to be in one language.
        start.Environment["DOTNET_CLI_UI_LANGUAGE"] = "en";
        start.Environment["LC_ALL"] = "C.UTF-8";
        using var process = Process.Start(start) ?? throw new InvalidOperationException($"{start.FileName} did not start.");
        using var timer = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        timer.CancelAfter(Longest);
        try
        {
            process.StandardInput.Close();
            var output = process.StandardOutput.ReadToEndAsync(timer.Token);
            var error = process.StandardError.ReadToEndAsync(timer.Token);
            await process.WaitForExitAsync(timer.Token);
            return new FinishedCommand(process.ExitCode, await output + await error);
        }
        catch (OperationCanceledException)
        {
            process.Kill(entireProcessTree: true);
            cancellation.ThrowIfCancellationRequested();
            return new FinishedCommand(-1, FormattableString.Invariant($"error : {Path.GetFileName(command)} {arguments[0]} took longer than {Longest.TotalMinutes} minutes"));
        }
    }
}
