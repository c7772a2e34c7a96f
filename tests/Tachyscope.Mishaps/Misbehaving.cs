using System.Diagnostics;
using System.Runtime.InteropServices;

namespace Tachyscope.Mishaps;

/// <summary>Studies with one sound variant and one that misbehaves.</summary>
internal static class Misbehaving
{
    private static int s_calls;

    public static Study[] All =>
    [
        With("sound", x => x * 3),
        With("throws later", x => ++s_calls > 2_000 ? throw new InvalidOperationException("the oil is used up") : x * 3),
        With("dies later", x =>
        {
            if (++s_calls > 2_000)
            {
                Environment.Exit(8);
            }

            return x * 3;
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
        Shapes.Study,
    ];

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
    private static extern nint strlen(nint text);

    private static int Deeper(int x) => x + Deeper(x + 1);

    private static Study With(string name, Func<int, int> variant)
        => Study.Of(name).Input("a lamp", () => 5).Baseline("steady", x => x * 3).Variant("unsteady", variant);
}
