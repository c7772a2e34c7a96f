namespace Tachyscope.Mishaps;

/// <summary>Studies with one sound variant and one that misbehaves.</summary>
internal static class Misbehaving
{
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

    private static int Deeper(int x) => x + Deeper(x + 1);

    private sealed record Lamp(int Number);

    private static Study With(string name, Func<int, int> variant)
        => Study.Of(name).Input("a lamp", () => 5).Baseline("steady", x => x * 3).Variant("unsteady", variant);
}
