namespace Tachyscope.Mishaps;

/// <summary>A sound study of many shapes at once.</summary>
internal static class Shapes
{
    public static Study Study => Tachyscope.Study.Of("shapes")
        .Input("short", 3, () => new[] { 3, 1, 2 })
        .Input("long", 1, () => Enumerable.Range(0, 500).Reverse().ToArray())
        .Baseline("in stages", levels =>
        {
            using (Stage.Open("sum"))
            {
                return levels.Sum();
            }
        })
        .Variant("in steps", Dial.Over("step", 4), (levels, step) => Enumerable.Range(0, step)
            .Sum(first => levels.Where((_, index) => index % step == first).Sum()))
        .Variant("kept", prepare: () => new byte[4_000], use: (kept, levels) => levels.Sum() + kept[0])
        .Variant("thrown", levels =>
        {
            try
            {
                throw new InvalidOperationException();
            }
            catch (InvalidOperationException)
            {
                return levels.Sum();
            }
        })
        .PerCall(levels => Work.OfItems(levels.Length));
}
