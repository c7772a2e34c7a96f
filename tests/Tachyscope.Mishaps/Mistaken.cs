namespace Tachyscope.Mishaps;

/// <summary>Studies whose definitions are wrong, each in its own way.</summary>
internal static class Mistaken
{
    private static int s_made;

    public static Study[] All =>
    [
        Study.Of("bad dial").Input("a lamp", () => 1).Baseline("plain", x => x).Variant("turned", Dial.Over("oil", 0, -4), (x, oil) => x),
        Study.Of("other input").Input("a lamp", () => ++s_made).Baseline("plain", x => x),
        Study.Of("torn name").Input("a lamp", () => 1).Baseline("whole", x => x).Variant("torn\ud800", x => x),
        Study.Of("\u001b[2Jcleared").Input("a lamp", () => 1).Baseline("whole", x => x),
        Study.Of("same names").Input("a lamp", () => 1).Baseline("twice", x => x).Variant("twice", x => x),
        Study.Of("empty inputs").Inputs("lamps", [], count => count).Baseline("idle", x => x),
        Study.Of("bad factory").Input("a lamp", int () => throw new InvalidOperationException("out of oil")).Baseline("dark", x => x),
    ];
}
