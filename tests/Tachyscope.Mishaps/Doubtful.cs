namespace Tachyscope.Mishaps;

/// <summary>Studies that run to their end and are not to be believed without a second look.</summary>
internal static class Doubtful
{
    private static readonly long Begin = Environment.TickCount64;
    private static int s_calls;
    private static byte[]? s_waste;

    public static Study[] All =>
    [
        Study.Of("doubtful").Inputs("lamps", [16, 64, 512], count => Enumerable.Range(0, count).Select(lamp => count - lamp).ToArray())
            .Baseline("adds up", lamps => lamps.Sum())
            .Variant("sorts", lamps =>
            {
                Array.Sort(lamps);
                return lamps[0];
            })
            .Variant("is idle", _ => 42)
            .Variant("sleeps", lamps =>
            {
                Thread.Sleep(1);
                return lamps[0];
            })
            .Variant("reads", lamps => lamps[0] + File.ReadAllBytes(typeof(Doubtful).Assembly.Location).Length)
            .Variant("wastes now and then", lamps =>
            {
                s_waste = new byte[(s_calls++ >> 12) % 2 == 0 ? 16 : 400];
                return lamps[0] + s_waste.Length;
            })
            .Agree((_, _) => true),
        // Longer by a step every four milliseconds; ten times as long in every other stretch of forty.
        Study.Of("changeable").Input("a lamp", () => 5).Baseline("steady", x => Work(x, 60))
            .Variant("grows", x => Work(x, 20 + (int)((Environment.TickCount64 - Begin) / 4)))
            .Variant("has moods", x => Work(x, Environment.TickCount64 / 40 % 2 == 0 ? 40 : 400))
            .Agree((_, _) => true),
        Study.Of("long work").Input("a lamp", () => 5).Baseline("steady", x => Work(x, 2_500_000)).Variant("unsteady", x => Work(x, 2_500_001)).Agree((_, _) => true),
        Study.Of("later").Input("a lamp", () => new[] { 3, 1, 2 })
            .Baseline("now", object (lamps) => lamps.Order().ToArray())
            .Variant("when asked", object (lamps) => lamps.Order()),
    ];

    private static int Work(int x, int rounds)
    {
        var sum = x;
        for (var round = 0; round < rounds; round++)
        {
            sum = (sum * 3) + 1;
        }

        return sum;
    }
}
