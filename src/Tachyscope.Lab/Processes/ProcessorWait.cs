using System.Globalization;
using Tachyscope.Lab.Machines;

namespace Tachyscope.Lab.Processes;

/// <summary>For how long a worker was ready to go on and got no processor: one that waits its turn is not silent.</summary>
/// <param name="processes">Where the system tells of processes, /proc; elsewhere none is known to have waited.</param>
internal sealed class ProcessorWait(string processes)
{
    // The thread that calls the user's code.
    private const string CallingThread = "Tachyscope";

    /// <summary>
    /// The time that its main thread and the one that calls have waited for a processor so far, less what threads of the operation's own
    /// have run: those took the processors from it, which is its own affair. Nothing where that is not told.
    /// </summary>
    /// <param name="process">Its id.</param>
    public TimeSpan Of(int process)
    {
        var id = process.ToString(CultureInfo.InvariantCulture);
        try
        {
            var threads = Directory.EnumerateDirectories(Path.Combine(processes, id, "task"))
                .OrderBy(thread => int.Parse(Path.GetFileName(thread), CultureInfo.InvariantCulture)).ToList();
            // A thread bears the name of the one that started it until it gets its own, so the first is meant.
            var calling = threads.Find(thread => Told(thread, "comm") == CallingThread);
            var nanoseconds = threads.Sum(thread =>
            {
                var (ran, waited) = OfThread(thread);
                return thread == calling || Path.GetFileName(thread) == id ? waited : -ran;
            });
            return TimeSpan.FromTicks(nanoseconds / 100);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return TimeSpan.Zero;
        }
    }

    // "time on a processor, time waiting for one, turns", in nanoseconds.
    private static (long Ran, long Waited) OfThread(string thread)
        => Told(thread, "schedstat")?.Split(' ') is [var ran, var waited, ..]
            && long.TryParse(ran, CultureInfo.InvariantCulture, out var onIt)
                && long.TryParse(waited, CultureInfo.InvariantCulture, out var forIt)
                ? (onIt, forIt)
                : (0, 0);

    private static string? Told(string thread, string file) => SystemFile.TryRead(Path.Combine(thread, file));
}
