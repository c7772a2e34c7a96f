using System.Globalization;
using Tachyscope.Working;

namespace Tachyscope.Lab.Processes;

/// <summary>Runs commands that work for us and keeps what they write.</summary>
internal static class ShellCommand
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(10);

    // A build is over before profiles of the SDK's own code pay: a first one takes a twentieth less without them.
    private static readonly (string Name, string Value) Unprofiled = ("DOTNET_TieredPGO", "0");

    public static Task<FinishedCommand> DotnetAsync(string[] arguments, CancellationToken cancellation)
        => DotnetInAsync(null, arguments, [], cancellation);

    /// <param name="folder">Folder it works in, whose global.json says which SDK; null for the caller's.</param>
    /// <param name="arguments">Its arguments.</param>
    /// <param name="variables">Variables of its environment.</param>
    /// <param name="cancellation">Ends it, and all it started.</param>
    public static Task<FinishedCommand> DotnetInAsync(
        string? folder, string[] arguments, (string Name, string Value)[] variables, CancellationToken cancellation)
        => RunAsync(DotnetHost.Path, folder, arguments,
            [("DOTNET_NOLOGO", "1"), ("DOTNET_CLI_UI_LANGUAGE", "en"), Unprofiled, .. variables], cancellation);

    /// <param name="command">Name or path of the command.</param>
    /// <param name="folder">Folder it works in; null for the caller's.</param>
    /// <param name="arguments">Its arguments.</param>
    /// <param name="variables">Variables of its environment.</param>
    /// <param name="cancellation">Ends it, and all it started.</param>
    /// <exception cref="System.ComponentModel.Win32Exception">There is no such command.</exception>
    public static async Task<FinishedCommand> RunAsync(
        string command, string? folder, string[] arguments, (string Name, string Value)[] variables, CancellationToken cancellation)
    {
        using var process = ChildProcess.Start(command, folder, arguments, environment =>
        {
            // Started from a hook of git's, its variables would turn every command of ours to that repository.
            foreach (var name in environment.Keys.Where(name => name.StartsWith("GIT_", StringComparison.Ordinal)).ToList())
            {
                environment.Remove(name);
            }

            // Messages are shown to the user but also searched for errors, so they have to be in one language.
            environment["LC_ALL"] = "C.UTF-8";
            foreach (var (name, value) in variables)
            {
                environment[name] = value;
            }
        });
        using var timer = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        timer.CancelAfter(Longest);
        try
        {
            await process.Input.DisposeAsync();
            var output = ChildProcess.TextAsync(process.Output, timer.Token);
            var error = ChildProcess.TextAsync(process.Errors, timer.Token);
            await process.Ended.WaitAsync(timer.Token);
            return new FinishedCommand(process.ExitCode, await output, await error);
        }
        catch (OperationCanceledException)
        {
            process.Kill();
            cancellation.ThrowIfCancellationRequested();
            var late = string.Create(CultureInfo.InvariantCulture, $"error : {Path.GetFileName(command)} {arguments[0]} took longer "
                + $"than {Longest.TotalMinutes} minutes");
            return new FinishedCommand(-1, "", late);
        }
    }
}
