using System.Globalization;
using System.Runtime.InteropServices;

namespace Tachyscope.Lab.Processes;

/// <summary>Holds a thread of another process to one processor, where the system lets us.</summary>
internal static class ThreadAffinity
{
    private const int MaskBytes = 128;

    // Of what stands in a thread's stat behind its name: time in the program and in the system.
    private const int UserTime = 11;
    private const int SystemTime = 12;

    /// <summary>The thread of a process that was busiest so far: after warming, the one that calls. The first where that cannot be
    /// told.</summary>
    public static int BusiestOf(int process)
    {
        try
        {
            return Directory.EnumerateDirectories($"/proc/{process}/task")
                .Select(folder => (Thread: int.Parse(Path.GetFileName(folder), CultureInfo.InvariantCulture), Time: TimeOf(folder)))
                .OrderByDescending(thread => thread.Time).ThenBy(thread => thread.Thread).First().Thread;
        }
        catch (Exception exception) when (exception is IOException or InvalidOperationException)
        {
            // It has just ended, which whoever asks it next is told; or there is no such folder.
            return process;
        }
    }

    /// <summary>Moves a thread to a processor.</summary>
    /// <returns>Whether it is held there.</returns>
    public static bool TryHold(int thread, int processor)
    {
        if (!OperatingSystem.IsLinux() || processor is < 0 or >= MaskBytes * 8)
        {
            return false;
        }

        var mask = new byte[MaskBytes];
        mask[processor / 8] = (byte)(1 << (processor % 8));
        return sched_setaffinity(thread, MaskBytes, mask) == 0;
    }

    private static long TimeOf(string folder)
    {
        try
        {
            var text = File.ReadAllText(Path.Combine(folder, "stat"));
            var rest = text[(text.LastIndexOf(')') + 2)..].Split(' ');
            return long.Parse(rest[UserTime], CultureInfo.InvariantCulture) + long.Parse(rest[SystemTime], CultureInfo.InvariantCulture);
        }
        catch (IOException)
        {
            // A thread that has just ended is none that calls.
            return -1;
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int sched_setaffinity(int thread, nint maskBytes, byte[] mask);
}
