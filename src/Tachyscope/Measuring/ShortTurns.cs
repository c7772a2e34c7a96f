using System.Globalization;
using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>
/// Asks the system to let this process's threads go on soon after they waited, though others keep all processors busy, so that what is
/// awaited is read and not what the neighbours leave.
/// </summary>
/// <remarks>
/// Since Linux 6.12 a thread may tell how long the turns are that it asks for (sched_setattr(2), sched_runtime); who asks for shorter ones
/// comes sooner and gets no more of a processor in all. Threads that one starts ask as it does. Older systems take it and do nothing, and
/// where it is refused all stays as it was.
/// </remarks>
internal static unsafe class ShortTurns
{
    // The shortest that the system takes.
    private const ulong Nanoseconds = 100_000;
    private const uint Ordinary = 0;
    private const string Threads = "/proc/self/task";

    /// <summary>Asks for all threads there are.</summary>
    public static void Ask()
    {
        if (!OperatingSystem.IsLinux() || Calls() is not var (get, set))
        {
            return;
        }

        try
        {
            foreach (var thread in Directory.EnumerateDirectories(Threads))
            {
                Ask(get, set, int.Parse(Path.GetFileName(thread), CultureInfo.InvariantCulture));
            }
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            // Without the system's list of threads they wait as long as others let them.
        }
    }

    // What else is set, such as how nice it is, stays.
    private static void Ask(nint get, nint set, int thread)
    {
        var wish = default(Wish);
        if (syscall(get, thread, &wish, (uint)sizeof(Wish), 0) == 0 && wish.Policy == Ordinary)
        {
            wish.Runtime = Nanoseconds;
            _ = syscall(set, thread, &wish, 0, 0);
        }
    }

    private static (nint Get, nint Set)? Calls() => RuntimeInformation.ProcessArchitecture switch
    {
        Architecture.X64 => (315, 314),
        Architecture.Arm64 => (275, 274),
        _ => null,
    };

    // The first of the forms that the calls take, which every system that has them knows.
    [StructLayout(LayoutKind.Sequential)]
    private struct Wish
    {
        public uint Size;
        public uint Policy;
        public ulong Flags;
        public int Nice;
        public uint Priority;
        public ulong Runtime;
        public ulong Deadline;
        public ulong Period;
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint syscall(nint number, int thread, Wish* wish, uint size, uint flags);
}
