namespace Tachyscope.Mishaps;

/// <summary>Studies whose definitions are wrong, each in its own way.</summary>
internal static class Mistaken
{
    public static Study[] All =>
    [
        Study.Of("no baseline").Input("a lamp", () => 1).Variant("lonely", x => x),
        Study.Of("same names").Input("a lamp", () => 1).Baseline("twice", x => x).Variant("twice", x => x),
        Study.Of("empty inputs").Inputs("lamps", [], count => count).Baseline("idle", x => x),
        Study.Of("bad factory").Input("a lamp", int () => throw new InvalidOperationException("out of oil")).Baseline("dark", x => x),
    ];
}
