namespace Tachyscope.Mishaps;

/// <summary>Studies that run to their end and are not to be believed without a second look.</summary>
internal static class Doubtful
{
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
            .Variant("reads", lamps => lamps[0] + File.ReadAllBytes(typeof(Doubtful).Assembly.Location).Length)
            .Agree((_, _) => true),
        Study.Of("later").Input("a lamp", () => new[] { 3, 1, 2 })
            .Baseline("now", object (lamps) => lamps.Order().ToArray())
            .Variant("when asked", object (lamps) => lamps.Order())
            .Variant("is helped", object (lamps) => Task.Run(() => (int[])[.. lamps.Order(), .. new int[250]]).GetAwaiter()
                .GetResult()[..3]),
    ];
}
