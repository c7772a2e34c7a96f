using System.ComponentModel;
using System.Runtime.InteropServices;
using System.Text;

namespace Tachyscope.Lab.Commands;

/// <summary>A program started with as little as the system allows around it, and what it used when it ended.</summary>
/// <remarks>
/// posix_spawn and wait4: the runtime's own way of starting programs does not tell the processor time of one that has ended. The most
/// memory
/// that wait4 tells of is at least the starter's own, so it is looked up at the program's last moment, where the system stops it for us.
/// </remarks>
internal static class SpawnedProcess
{
    private const int ActionsBytes = 512;
    private const int AttributesBytes = 512;
    private const short SetGroup = 2;
    private const int ReadOnly = 0;
    private const int WriteOnly = 1;
    private const int Kill = 9;
    private const int UsageBytes = 256;

    // As ptrace and wait number them.
    private const int Seize = 0x4206;
    private const int Continue = 7;
    private const int StopAtExit = 1 << 6;
    private const int ExitEvent = 6;
    private const int Stopped = 0x7f;
    private const int OfAnyKind = 0x4000_0000;

    // A signal came while it waited.
    private const int Interrupted = 4;

    /// <summary>Whether this system has what is needed.</summary>
    public static bool IsSupported => OperatingSystem.IsLinux() || OperatingSystem.IsMacOS();

    /// <summary>Starts a program and waits for its end.</summary>
    /// <param name="program">Path of it.</param>
    /// <param name="arguments">Its arguments.</param>
    /// <param name="input">Path of the file that it reads as its standard input.</param>
    /// <param name="folder">Folder it works in.</param>
    /// <param name="longest">How long it may take; it is killed then, with all it started.</param>
    /// <param name="isMemoryWanted">Whether to look up its memory, which takes time that is in the elapsed then.</param>
    /// <exception cref="Win32Exception">It could not be started.</exception>
    public static SpawnedEnd Run(string program, IReadOnlyList<string> arguments, string input, string folder, TimeSpan longest,
        bool isMemoryWanted)
    {
        var (actions, attributes, usage) = (new byte[ActionsBytes], new byte[AttributesBytes], new byte[UsageBytes]);
        var (path, nowhere) = (Text(program), Text("/dev/null"));
        var argv = Texts([program, .. arguments]);
        var environment = Texts([.. Environment.GetEnvironmentVariables().Cast<System.Collections.DictionaryEntry>().Select(entry
            => $"{entry.Key}={entry.Value}")]);
        try
        {
            Check(posix_spawn_file_actions_init(actions));
            Check(posix_spawn_file_actions_addopen(actions, 0, Text(input), ReadOnly, 0));
            Check(posix_spawn_file_actions_addopen(actions, 1, nowhere, WriteOnly, 0));
            Check(posix_spawn_file_actions_addopen(actions, 2, nowhere, WriteOnly, 0));
            Check(posix_spawn_file_actions_addchdir_np(actions, Text(folder)));
            Check(posix_spawnattr_init(attributes));
            // At the head of a group of its own, so that what it starts ends with it.
            Check(posix_spawnattr_setflags(attributes, SetGroup));
            Check(posix_spawnattr_setpgroup(attributes, 0));
            var start = System.Diagnostics.Stopwatch.GetTimestamp();
            Check(posix_spawn(out var process, path, actions, attributes, argv, environment));
            using var timer = new Timer(group => _ = kill(-(int)group!, Kill), process, longest, Timeout.InfiniteTimeSpan);
            var isTraced = isMemoryWanted && OperatingSystem.IsLinux() && ptrace(Seize, process, 0, StopAtExit) == 0;
            long? peak = null;
            int status;
            while (true)
            {
                if (wait4(process, out status, isTraced ? OfAnyKind : 0, usage) < 0)
                {
                    if (Marshal.GetLastPInvokeError() == Interrupted)
                    {
                        continue;
                    }

                    throw new Win32Exception(Marshal.GetLastPInvokeError());
                }

                if ((status & 0xff) != Stopped)
                {
                    break;
                }

                // Its last moment; at any other it is to go on as if nobody looked.
                var isOfOurs = status >> 16 != 0;
                peak = status >> 16 == ExitEvent ? PeakOf(process) : peak;
                _ = ptrace(Continue, process, 0, isOfOurs ? 0 : (status >> 8) & 0xff);
            }

            var elapsed = System.Diagnostics.Stopwatch.GetElapsedTime(start);
            var isLeft = kill(-process, Kill) == 0;
            long At(int offset) => BitConverter.ToInt64(usage, offset);
            // Two times of seconds and microseconds.
            var microseconds = ((At(0) + At(16)) * 1_000_000) + (int)At(8) + (int)At(24);
            return new SpawnedEnd(
                elapsed, TimeSpan.FromMicroseconds(microseconds), peak,
                (status & 0x7f) == 0 ? (status >> 8) & 0xff : 128 + (status & 0x7f), elapsed >= longest, isLeft);
        }
        finally
        {
            _ = posix_spawn_file_actions_destroy(actions);
            _ = posix_spawnattr_destroy(attributes);
            Free(argv);
            Free(environment);
        }
    }

    private static long? PeakOf(int process)
    {
        try
        {
            var line = File.ReadLines($"/proc/{process}/status").FirstOrDefault(line
                => line.StartsWith("VmHWM:", StringComparison.Ordinal));
            return line?.Split(' ', StringSplitOptions.RemoveEmptyEntries) is [_, .., var kibibytes, "kB"]
                ? long.Parse(kibibytes, System.Globalization.CultureInfo.InvariantCulture) * 1024
                : null;
        }
        catch (IOException)
        {
            return null;
        }
    }

    private static void Check(int error)
    {
        if (error != 0)
        {
            throw new Win32Exception(error);
        }
    }

    private static byte[] Text(string text) => Encoding.UTF8.GetBytes($"{text}\0");

    private static nint[] Texts(IReadOnlyList<string> texts) => [.. texts.Select(text =>
    {
        var bytes = Text(text);
        var memory = Marshal.AllocHGlobal(bytes.Length);
        Marshal.Copy(bytes, 0, memory, bytes.Length);
        return memory;
    }), 0];

    private static void Free(nint[] texts) => Array.ForEach(texts, Marshal.FreeHGlobal);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawn_file_actions_init(byte[] actions);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawn_file_actions_destroy(byte[] actions);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawn_file_actions_addopen(
        byte[] actions, int descriptor, byte[] path, int flags, uint mode);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawn_file_actions_addchdir_np(byte[] actions, byte[] path);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawnattr_init(byte[] attributes);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawnattr_destroy(byte[] attributes);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawnattr_setflags(byte[] attributes, short flags);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawnattr_setpgroup(byte[] attributes, int group);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_spawn(
        out int process, byte[] path, byte[] actions, byte[] attributes, nint[] arguments, nint[] environment);

    [DllImport("libc", ExactSpelling = true, SetLastError = true)]
    private static extern int wait4(int process, out int status, int options, byte[] usage);

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint ptrace(nint request, int process, nint address, nint data);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}

/// <summary>How a started program ended.</summary>
/// <param name="Elapsed">Time from before its start until its end was seen.</param>
/// <param name="Processor">Processor time of it and of what it waited for.</param>
/// <param name="PeakMemoryBytes">Most memory it held at once itself; null where that was not asked for, or cannot be told.</param>
/// <param name="ExitCode">Its exit code; 128 and the signal where one ended it.</param>
/// <param name="IsLate">Whether it was killed because it took too long.</param>
/// <param name="HasLeftProcesses">Whether it had started others that went on, which were ended.</param>
internal readonly record struct SpawnedEnd(
    TimeSpan Elapsed, TimeSpan Processor, long? PeakMemoryBytes, int ExitCode, bool IsLate, bool HasLeftProcesses);
