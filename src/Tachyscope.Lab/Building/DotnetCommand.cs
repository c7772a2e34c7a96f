using System.Diagnostics;
using Tachyscope.Working;

namespace Tachyscope.Lab.Building;

/// <summary>Runs the dotnet command and keeps what it wrote.</summary>
internal static class DotnetCommand
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(10);

    public static async Task<FinishedCommand> RunAsync(string[] arguments, CancellationToken cancellation)
    {
        var start = new ProcessStartInfo(DotnetHost.Path, arguments)
        {
            UseShellExecute = false, RedirectStandardOutput = true, RedirectStandardError = true, RedirectStandardInput = true,
        };
        // Messages are shown to the user but also searched for errors, so they have to be in one language.
        start.Environment["DOTNET_CLI_UI_LANGUAGE"] = "en";
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
            return new FinishedCommand(-1, FormattableString.Invariant($"error : dotnet {arguments[0]} took longer than {Longest.TotalMinutes} minutes"));
        }
    }
}
