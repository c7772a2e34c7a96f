using System.Diagnostics;
using System.Runtime.InteropServices;

namespace Tachyscope.Mishaps;

/// <summary>Studies with a sound baseline and variants that misbehave.</summary>
internal static class Misbehaving
{
    private static int s_looks;

    public static Study[] All =>
    [
        Of("misfits")
            .Variant("throws later", Later(_ => throw new InvalidOperationException("the oil is used up")))
            .Variant("dies later", Later(_ => Environment.Exit(8)))
            .Variant("hangs later", Later(_ => Thread.Sleep(Timeout.Infinite)))
            .Variant("is wrong in native code", Later(_ => strlen(16)))
            .Variant("overflows", Later(x => Deeper(x)))
            .Variant("exhausts memory", Later(_ => Exhaust()))
            .Variant("leaves a stage open", x =>
            {
                Stage.Open("lighting");
                return x * 3;
            })
            .Variant("leaves a child", Once(() => Process.Start(new ProcessStartInfo("sleep", "300"))!.Dispose()))
            .Variant("writes without end", Once(() => Flood(16))),
        Of("spins").Variant("on and on", Later(Spin)),
        Study.Of("factory exits").Input("a good lamp", () => 5).Input("a lost lamp", () =>
        {
            Environment.Exit(9);
            return 5;
        }).Baseline("steady", x => x * 3),
        Of("odd")
            .Variant("is slow", x =>
            {
                Thread.Sleep(400);
                return x * 3;
            })
            .Variant("looks around", x => s_looks++ % 1_000 == 0 && Surroundings.Stranger() is { } stranger
                ? throw new InvalidOperationException(stranger)
                : x * 3),
        Shapes.Study,
    ];

    // One line by the megabyte, past the console.
    private static void Flood(int megabytes)
    {
        using var output = Console.OpenStandardError();
        var part = new byte[1 << 20];
        Array.Fill(part, (byte)'~');
        for (var count = 0; count < megabytes; count++)
        {
            output.Write(part);
        }

        output.WriteByte((byte)'\n');
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern nint strlen(nint text);

    private static int Deeper(int x) => x + Deeper(x + 1);

    private static void Spin(int x)
    {
        while (x > 0)
        {
        }
    }

    private static void Exhaust()
    {
        var kept = new List<byte[]>();
        while (true)
        {
            kept.Add(new byte[10_000_000]);
        }
    }

    private static StudyDraft<int, int> Of(string name) => Study.Of(name).Input("a lamp", () => 5).Baseline("steady", x => x * 3);

    // Sound when it is looked at, then not.
    private static Func<int, int> Later(Action<int> mishap)
    {
        var calls = 0;
        return x =>
        {
            if (++calls > 2_000)
            {
                mishap(x);
            }

            return x * 3;
        };
    }

    private static Func<int, int> Once(Action mishap)
    {
        var calls = 0;
        return x =>
        {
            if (calls++ == 0)
            {
                mishap();
            }

            return x * 3;
        };
    }
}
