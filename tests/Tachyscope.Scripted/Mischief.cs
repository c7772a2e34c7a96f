using System.Diagnostics;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;

namespace Tachyscope.Scripted;

/// <summary>Makes happen what is to go wrong.</summary>
internal sealed class Mischief
{
    // Nobody ends a worker whose test has failed.
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(60);

    private readonly JsonElement[] _faults;
    private readonly string _folder;
    private readonly Stream _replies;
    private readonly FileStream? _whereabouts;
    private long _entered;

    public Mischief(JsonElement faults, string folder, Stream replies)
    {
        (_faults, _folder, _replies) = ([.. faults.EnumerateArray()], folder, replies);
        if (_faults.Length > 0)
        {
            _ = OperatingSystem.IsWindows() ? 0 : setpgid(0, 0);
            _whereabouts = Environment.GetEnvironmentVariable("TACHYSCOPE_WHEREABOUTS") is { Length: > 0 } path
                ? new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite | FileShare.Delete, bufferSize: 0) : null;
        }
    }

    /// <summary>What goes wrong at a request, if anything does; answers the message of an error that is to be replied.</summary>
    /// <param name="method">The request.</param>
    /// <param name="rows">Rows that take part in it.</param>
    /// <param name="cellOf">Cell of a row in the open sitting.</param>
    public string? Make(string method, IReadOnlyCollection<int> rows, Func<int, int> cellOf)
    {
        for (var index = 0; index < _faults.Length; index++)
        {
            var fault = _faults[index];
            var row = fault.TryGetProperty("row", out var named) ? named.GetInt32() : (int?)null;
            if (fault.GetProperty("at").GetString() == method && (row is null || rows.Contains(row.Value)) && IsTime(fault, index))
            {
                var place = fault.GetProperty("place").GetInt64();
                Enter(place, place == 2 && row is { } own ? cellOf(own) : fault.GetProperty("index").GetInt64());
                if (Do(fault) is { } refusal)
                {
                    return refusal;
                }

                Enter(0, 0);
            }
        }

        return null;
    }

    // Counted in a file, for all workers of the project together.
    private bool IsTime(JsonElement fault, int index)
    {
        var (after, isOnce) = (fault.GetProperty("after").GetInt32(), fault.GetProperty("isOnce").GetBoolean());
        if (after == 0 && !isOnce)
        {
            return true;
        }

        using var count = new FileStream(Path.Combine(_folder, $"fault-{index}"), FileMode.OpenOrCreate, FileAccess.ReadWrite,
            FileShare.ReadWrite);
        var before = count.Length;
        count.SetLength(before + 1);
        return isOnce ? before == after : before >= after;
    }

    // As the protocol has it: what and where, and then the count.
    private void Enter(long place, long index)
    {
        if (_whereabouts is not null)
        {
            RandomAccess.Write(_whereabouts.SafeFileHandle, [.. BitConverter.GetBytes(place), .. BitConverter.GetBytes(index)], 8);
            RandomAccess.Write(_whereabouts.SafeFileHandle, BitConverter.GetBytes(++_entered), 0);
        }
    }

    private string? Do(JsonElement fault)
    {
        var (number, text) = (fault.GetProperty("number").GetInt32(), fault.GetProperty("text").GetString()!);
        switch (fault.GetProperty("kind").GetString())
        {
            case "Hang":
                Thread.Sleep(Longest);
                break;
            case "Spin":
                for (var begin = Stopwatch.GetTimestamp(); Stopwatch.GetElapsedTime(begin) < Longest;)
                {
                }

                break;
            case "Exit":
                Environment.Exit(number);
                break;
            case "Signal":
                _ = kill(Environment.ProcessId, number);
                Thread.Sleep(Longest);
                break;
            case "Say":
                Console.Error.WriteLine(text);
                break;
            case "Write":
                _replies.Write(Encoding.UTF8.GetBytes(text + "\n"));
                break;
            case "FloodError":
                Flood(Console.OpenStandardError(), number);
                break;
            case "FloodOutput":
                Flood(_replies, number);
                _replies.WriteByte((byte)'\n');
                break;
            case "Refuse":
                return text;
            case "Close":
                _ = close(1);
                Thread.Sleep(Longest);
                break;
            case "LeaveChild":
                Process.Start(new ProcessStartInfo("sleep", "300") { RedirectStandardInput = true })!.Dispose();
                break;
        }

        return null;
    }

    private static void Flood(Stream stream, int megabytes)
    {
        var part = new byte[1 << 20];
        Array.Fill(part, (byte)'~');
        for (var count = 0; count < megabytes; count++)
        {
            stream.Write(part);
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int setpgid(int process, int group);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int close(int descriptor);
}
