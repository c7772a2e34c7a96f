using System.Globalization;
using System.Runtime.InteropServices;

namespace Tachyscope.Lab.Processes;

/// <summary>Holds all threads of another process to one processor, where the system lets us.</summary>
internal static class ThreadAffinity
{
    private const int MaskBytes = 128;

    /// <summary>Moves the threads a process has now; those they start later follow them.</summary>
    /// <returns>Whether its first thread is held.</returns>
    public static bool TryHold(int process, int processor)
    {
        if (!OperatingSystem.IsLinux() || processor is < 0 or >= MaskBytes * 8)
        {
            return false;
        }

        var mask = new byte[MaskBytes];
        mask[processor / 8] = (byte)(1 << (processor % 8));
        var isHeld = sched_setaffinity(process, MaskBytes, mask) == 0;
        try
        {
            foreach (var folder in Directory.EnumerateDirectories($"/proc/{process}/task"))
            {
                if (int.TryParse(Path.GetFileName(folder), NumberStyles.None, CultureInfo.InvariantCulture, out var thread) && thread != process)
                {
                    _ = sched_setaffinity(thread, MaskBytes, mask);
                }
            }
        }
        catch (IOException)
        {
            // It has just ended, which whoever asks it next is told.
        }

        return isHeld;
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int sched_setaffinity(int thread, nint maskBytes, byte[] mask);
}
