using System.Globalization;

namespace Tachyscope.Lab.Workers;

/// <summary>For how long a process was ready to go on and got no processor: a worker that waits its turn is not silent.</summary>
/// <param name="processes">Where the system tells of processes, /proc; elsewhere none is known to have waited.</param>
internal sealed class ProcessorWait(string processes)
{
    /// <summary>The time its threads have waited for a processor so far, all together; nothing where that is not told.</summary>
    /// <param name="process">Its id.</param>
    public TimeSpan Of(int process)
    {
        try
        {
            var threads = Path.Combine(processes, process.ToString(CultureInfo.InvariantCulture), "task");
            var nanoseconds = Directory.EnumerateDirectories(threads)
                .Sum(thread => OfThread(Path.Combine(thread, "schedstat")));
            return TimeSpan.FromTicks(nanoseconds / 100);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return TimeSpan.Zero;
        }
    }

    // "time on a processor, time waiting for one, turns", in nanoseconds.
    private static long OfThread(string file)
    {
        try
        {
            return File.ReadAllText(file).Split(' ') is [_, var waited, ..] && long.TryParse(waited, CultureInfo.InvariantCulture, out var known)
                ? known
                : 0;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            // The thread has just ended.
            return 0;
        }
    }
}
