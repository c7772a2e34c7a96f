using System.CommandLine;
using Tachyscope.Analysis.Histories;

namespace Tachyscope.Cli.Commands;

/// <summary>Measures again whenever a source changes, and tells what changed since the last time, until it is interrupted.</summary>
internal sealed class Watch(Surroundings around)
{
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(150);
    private static readonly string[] Endings = [".cs", ".csproj", ".props", ".targets", ".json"];
    private static readonly string[] Made = ["bin", "obj", "artifacts"];

    /// <summary>The option of commands that can watch.</summary>
    public static Option<bool> Option() => new("--watch")
    {
        Description = "Measure again whenever a source changes, and tell what changed since the last time; Ctrl-C ends it.",
    };

    /// <param name="places">Files and folders to watch.</param>
    /// <param name="measure">Measures once, given what was found the last time; the exit code, and what was found.</param>
    /// <param name="cancellation">Ends it.</param>
    public async Task<int> RunAsync(
        IReadOnlyList<string> places, Func<RunSummary?, CancellationToken, Task<(int ExitCode, RunSummary? Found)>> measure,
            CancellationToken cancellation)
    {
        RunSummary? last = null;
        while (true)
        {
            var seen = Stamp(places);
            var (exitCode, found) = await measure(last, cancellation);
            if (cancellation.IsCancellationRequested)
            {
                return exitCode;
            }

            last = found ?? last;
            await around.Output.WriteLineAsync(
                $"watching {seen.Count} file{(seen.Count == 1 ? "" : "s")}; save one to measure again, Ctrl-C ends");
            try
            {
                while (Stamp(places).SetEquals(seen))
                {
                    await Task.Delay(Pause, cancellation);
                }

                // An editor may write in several goes.
                await Task.Delay(Pause, cancellation);
            }
            catch (OperationCanceledException)
            {
                // The way it is meant to end.
                return exitCode;
            }
        }
    }

    private static HashSet<(string Path, DateTime Changed)> Stamp(IReadOnlyList<string> places)
        => [.. places.SelectMany(Files).Distinct().Select(path => (path, File.GetLastWriteTimeUtc(path)))];

    private static IEnumerable<string> Files(string place)
    {
        if (File.Exists(place) && !place.EndsWith("proj", StringComparison.OrdinalIgnoreCase))
        {
            return [place];
        }

        var folder = Directory.Exists(place) ? place : Path.GetDirectoryName(Path.GetFullPath(place))!;
        return Directory.Exists(folder)
            ? Directory.EnumerateFiles(folder).Where(path => Endings.Contains(Path.GetExtension(path), StringComparer.OrdinalIgnoreCase))
                .Concat(Directory.EnumerateDirectories(folder).Where(inner => !Made.Contains(Path.GetFileName(inner))
                    && !Path.GetFileName(inner).StartsWith('.')).SelectMany(Files))
            : [];
    }
}
