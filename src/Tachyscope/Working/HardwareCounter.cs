using System.Runtime.InteropServices;

namespace Tachyscope.Working;

/// <summary>
/// One counter of the processor or the system for the calling thread, outside the system's own code, by Linux's perf_event_open.
/// </summary>
internal sealed unsafe class HardwareCounter : IDisposable
{
    private const int NoSuchEvent = 2;
    private const int NotPermitted = 1;
    private const int NoAccess = 13;
    private const int NoSuchDevice = 19;
    private const int NoSuchCall = 38;
    private const int NotSupported = 95;
    private const ulong TimesToo = 3;
    private const ulong OutsideTheSystem = 1UL << 5 | 1UL << 6;
    private const string WayOut = "sysctl -w kernel.perf_event_paranoid=2 allows it, unless a container forbids the call";

    private readonly int _descriptor;

    private HardwareCounter(int descriptor) => _descriptor = descriptor;

    /// <summary>Begins to count.</summary>
    /// <param name="kind">What is counted.</param>
    /// <param name="absence">Why it cannot be; null when it is.</param>
    /// <returns>The counter; null where there is none.</returns>
    public static HardwareCounter? Begin(CounterKind kind, out string? absence)
    {
        if (!OperatingSystem.IsLinux() || Call() is not { } call)
        {
            absence = "they are read on Linux only, on x64 and arm64";
            return null;
        }

        var (type, config) = ((ulong)kind >> 32, (uint)kind);
        var wish = new Wish
        {
            Type = (uint)type, Size = (uint)sizeof(Wish), Config = config, ReadFormat = TimesToo, Flags = OutsideTheSystem,
        };
        var descriptor = syscall(call, &wish, 0, -1, -1, 0);
        var error = Marshal.GetLastPInvokeError();
        absence = descriptor >= 0 ? null : error switch
        {
            NoSuchEvent or NoSuchDevice or NotSupported => "this processor shows none of them, as is so in most virtual machines",
            NotPermitted or NoAccess => $"the system does not allow it; {WayOut}",
            NoSuchCall => "this system has no call for it",
            _ => FormattableString.Invariant($"the system refuses them with error {error}"),
        };
        return descriptor < 0 ? null : new HardwareCounter((int)descriptor);
    }

    /// <summary>How much was counted since it began; null when it shared its place with another and was not counting all the
    /// time.</summary>
    public long? Read()
    {
        var told = default(Told);
        return read(_descriptor, &told, (nuint)sizeof(Told)) == sizeof(Told) && told.Running == told.Enabled ? told.Count : null;
    }

    public void Dispose() => _ = close(_descriptor);

    private static nint? Call() => RuntimeInformation.ProcessArchitecture switch
    {
        Architecture.X64 => 298,
        Architecture.Arm64 => 241,
        _ => null,
    };

    // The first of the forms that the call takes, which every system that has it knows.
    [StructLayout(LayoutKind.Sequential)]
    private struct Wish
    {
        public uint Type;
        public uint Size;
        public ulong Config;
        public ulong Period;
        public ulong SampleType;
        public ulong ReadFormat;
        public ulong Flags;
        public uint WakeUp;
        public uint BreakpointType;
        public ulong BreakpointAddress;
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct Told
    {
        public long Count;
        public ulong Enabled;
        public ulong Running;
    }

    [DllImport("libc", ExactSpelling = true, SetLastError = true)]
    private static extern nint syscall(nint number, Wish* wish, int process, int processor, int group, nuint flags);

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint read(int descriptor, Told* told, nuint count);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int close(int descriptor);
}
