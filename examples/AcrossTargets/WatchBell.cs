using Tachyscope;

/// <summary>An operation that the compiler works out, because it is only ever asked for one hour: its time is nobody's.</summary>
internal static class WatchBell
{
    private const int Watch = 8;

    public static Study Study => Tachyscope.Study.Of("ring the watch bell").Input("half past five", () => 11)
        .Baseline("any half hour", Strokes)
        .Variant("this one alone", _ => Strokes(11));

    // One stroke more every half hour, and eight at the end of a watch.
    private static int Strokes(int halfHours)
    {
        var since = halfHours % Watch;
        return since == 0 ? Watch : since;
    }
}
