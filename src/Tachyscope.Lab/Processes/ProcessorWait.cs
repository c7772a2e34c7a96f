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
    /// The time that its main thread and the one that calls have waited for a processor so far; nothing where that is not told. What
    /// threads of the operation's own wait is its affair: with more of them than processors, some always do.
    /// </summary>
    /// <param name="process">Its id.</param>
    public TimeSpan Of(int process)
    {
        var id = process.ToString(CultureInfo.InvariantCulture);
        try
        {
            var nanoseconds = Directory.EnumerateDirectories(Path.Combine(processes, id, "task"))
                .Where(thread => Path.GetFileName(thread) == id || Told(thread, "comm") == CallingThread)
                .Sum(OfThread);
            return TimeSpan.FromTicks(nanoseconds / 100);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return TimeSpan.Zero;
        }
    }

    // "time on a processor, time waiting for one, turns", in nanoseconds.
    private static long OfThread(string thread)
        => Told(thread, "schedstat")?.Split(' ') is [_, var waited, ..] && long.TryParse(waited, CultureInfo.InvariantCulture, out var known)
            ? known
            : 0;

    private static string? Told(string thread, string file) => SystemFile.TryRead(Path.Combine(thread, file));
}
