namespace Tachyscope.Bench.Studies;

/// <summary>Operations of 1 µs to 20 ms, one study each; the name is about how long a call takes.</summary>
internal static class Usage
{
    private static readonly (string Name, int Sixteens)[] Lengths =
        [("1 µs", 56), ("3 µs", 170), ("10 µs", 560), ("30 µs", 1_700), ("100 µs", 5_600), ("300 µs", 17_000), ("1 ms", 56_000),
            ("3 ms", 170_000), ("20 ms", 1_100_000)];

    public static Study[] All => [.. Lengths.Select(length => Of(length.Name, length.Sixteens))];

    private static Study Of(string name, int sixteens)
        => Study.Of($"usage {name}").Input("a number", () => 12_345).Baseline("chain", x => Links.Sixteens(x, sixteens))
            .Variant("again", x => Links.Sixteens(x, sixteens));
}
