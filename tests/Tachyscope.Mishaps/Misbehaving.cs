using System.Diagnostics;
using System.Runtime.InteropServices;

namespace Tachyscope.Mishaps;

/// <summary>Studies with one sound variant and one that misbehaves.</summary>
internal static class Misbehaving
{
    private const int Kill = 9;

    private static int s_calls;

    public static Study[] All =>
    [
        With("sound", x => x * 3),
        With("disagrees", x => x * 4),
        With("throws", x => x > 0 ? throw new InvalidOperationException("the lamp broke") : x),
        With("throws later", x => ++s_calls > 2_000 ? throw new InvalidOperationException("the oil is used up") : x * 3),
        With("dies", x =>
        {
            Console.Error.WriteLine("the tower fell");
            Environment.Exit(7);
            return x;
        }),
        With("dies later", x =>
        {
            if (++s_calls > 2_000)
            {
                Environment.Exit(8);
            }

            return x * 3;
        }),
        With("hangs", x =>
        {
            Thread.Sleep(Timeout.Infinite);
            return x;
        }),
        With("hangs later", x =>
        {
            if (++s_calls > 2_000)
            {
                Thread.Sleep(Timeout.Infinite);
            }

            return x * 3;
        }),
        With("spins", x =>
        {
            if (++s_calls > 2_000)
            {
                while (s_calls > 0)
                {
                }
            }

            return x * 3;
        }),
        With("leaves a child", x =>
        {
            if (s_calls++ == 0)
            {
                Process.Start(new ProcessStartInfo("sleep", "300"))!.Dispose();
            }

            return x * 3;
        }),
        With("is killed once", x => Killed(x, isAlways: false)),
        With("is killed always", x => Killed(x, isAlways: true)),
        With("is wrong in native code", x =>
        {
            if (++s_calls > 2_000)
            {
                strlen(16);
            }

            return x * 3;
        }),
        With("writes without end", x =>
        {
            if (s_calls++ == 0)
            {
                Flood(16);
            }

            return x * 3;
        }),
        With("draws on the terminal", x => throw new InvalidOperationException("red \u001b[31m, title \u001b]0;fog\u0007, cleared \u001b[2J, turned \u202e round\nsecond line")),
        Study.Of("factory hangs").Input("a good lamp", () => 5).Input("a slow lamp", () =>
        {
            Thread.Sleep(Timeout.Infinite);
            return 5;
        }).Baseline("steady", x => x * 3),
        Study.Of("factory exits").Input("a good lamp", () => 5).Input("a lost lamp", () =>
        {
            Environment.Exit(9);
            return 5;
        }).Baseline("steady", x => x * 3),
        With("leaves a stage open", x =>
        {
            Stage.Open("lighting");
            return x * 3;
        }),
        With("overflows", x => x > 0 ? Deeper(x) : x),
        With("exhausts memory", x =>
        {
            var kept = new List<byte[]>();
            while (true)
            {
                kept.Add(new byte[10_000_000]);
            }
        }),
        With("is slow", x =>
        {
            Thread.Sleep(400);
            return x * 3;
        }),
        With("looks around", x => s_calls++ % 1_000 == 0 && Surroundings.Stranger() is { } stranger ? throw new InvalidOperationException(stranger) : x * 3),
        Study.Of("unsteady input").Input("a lamp", () => new Lamp(++s_calls)).Baseline("steady", lamp => lamp.Number),
        Shapes.Study,
        With("prints", x =>
        {
            if (s_calls++ % 1_000 == 0)
            {
                Console.WriteLine("{\"jsonrpc\":\"2.0\",\"id\":1,\"result\":{}}");
            }

            return x * 3;
        }),
    ];

    // Whoever is killed leaves a mark where the next one sees it: once is enough.
    private static int Killed(int x, bool isAlways)
    {
        var mark = Environment.GetEnvironmentVariable("MISHAPS_MARK");
        if (++s_calls > 2_000 && mark is not null && (isAlways || !File.Exists(mark)))
        {
            File.WriteAllText(mark, "");
            Signal(Kill);
        }

        return x * 3;
    }

    private static void Signal(int signal)
    {
        _ = kill(Environment.ProcessId, signal);
        Thread.Sleep(Timeout.Infinite);
    }

    // A line without end, by the megabyte, past the console.
    private static void Flood(int megabytes)
    {
        using var output = Console.OpenStandardError();
        var part = new byte[1 << 20];
        Array.Fill(part, (byte)'~');
        for (var count = 0; count < megabytes; count++)
        {
            output.Write(part);
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint strlen(nint text);

    private static int Deeper(int x) => x + Deeper(x + 1);

    private sealed record Lamp(int Number);

    private static Study With(string name, Func<int, int> variant)
        => Study.Of(name).Input("a lamp", () => 5).Baseline("steady", x => x * 3).Variant("unsteady", variant);
}
