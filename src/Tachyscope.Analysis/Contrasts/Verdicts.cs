namespace Tachyscope.Analysis.Contrasts;

/// <summary>What follows from verdicts.</summary>
internal static class Verdicts
{
    /// <summary>What it says of the other row.</summary>
    public static Verdict Reversed(this Verdict verdict) => verdict switch
    {
        Verdict.Faster => Verdict.Slower,
        Verdict.Slower => Verdict.Faster,
        _ => verdict,
    };
}
