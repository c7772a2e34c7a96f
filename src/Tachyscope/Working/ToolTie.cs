using System.Runtime.InteropServices;

namespace Tachyscope.Working;

/// <summary>
/// Ties the worker's life to the tool's: when the tool is gone the worker goes too, whatever its operation is at. What the
/// terminal sends to the tool's group does not reach it; the tool decides what becomes of a sitting.
/// </summary>
/// <remarks>The main thread sleeps in the system until then, so that nothing runs beside the operation.</remarks>
internal sealed unsafe class ToolTie : IDisposable
{
    private const int Kill = 9;

    // EINTR
    private const int Interrupted = 4;
    private static readonly TimeSpan PatienceForEnd = TimeSpan.FromSeconds(1);

    private readonly int _requests;
    private readonly int[] _pipe = [-1, -1];
    private readonly bool _leadsGroup;

    private ToolTie(int requests)
    {
        _requests = requests;
        _leadsGroup = setpgid(0, 0) == 0;
        fixed (int* ends = _pipe)
        {
            _ = pipe(ends);
        }
    }

    /// <summary>The tie of a channel; where the system has no such calls, one that only waits.</summary>
    public static ToolTie To(ProtocolChannel channel)
        => channel.Requests is FileStream requests && !OperatingSystem.IsWindows()
            ? new ToolTie((int)requests.SafeFileHandle.DangerousGetHandle())
            : new ToolTie();

    private ToolTie() => _requests = -1;

    /// <summary>Waits until the thread ends; ends the process, and what the operation left running, when the tool ends before it.</summary>
    public void Hold(Thread measuring)
    {
        var watched = stackalloc Watched[2] { new() { Descriptor = _requests }, new() { Descriptor = _pipe[0], Wanted = Readable } };
        var isWatching = _requests >= 0 && _pipe[0] >= 0;
        while (isWatching && watched[1].Seen == 0)
        {
            var seen = poll(watched, 2, -1);
            // A signal only interrupts it.
            isWatching = seen > 0 || Marshal.GetLastPInvokeError() == Interrupted;
            // At rest it ends by itself, and what Main has to do behind it is done.
            if (seen > 0 && watched[0].Seen != 0 && !measuring.Join(PatienceForEnd))
            {
                _ = kill(_leadsGroup ? 0 : Environment.ProcessId, Kill);
            }
        }

        measuring.Join();
    }

    /// <summary>Lets the main thread go on.</summary>
    public void Loosen()
    {
        byte end = 0;
        _ = _pipe[1] >= 0 ? write(_pipe[1], &end, 1) : 0;
    }

    public void Dispose()
    {
        foreach (var end in _pipe.Where(end => end >= 0))
        {
            _ = close(end);
        }
    }

    private const short Readable = 1;

    [StructLayout(LayoutKind.Sequential)]
    private struct Watched
    {
        public int Descriptor;
        public short Wanted;
        public short Seen;
    }

    [DllImport("libc", ExactSpelling = true, SetLastError = true)]
    private static extern int poll(Watched* watched, nuint count, int milliseconds);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int setpgid(int process, int group);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int pipe(int* ends);

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint write(int descriptor, void* bytes, nuint count);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int close(int descriptor);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}
