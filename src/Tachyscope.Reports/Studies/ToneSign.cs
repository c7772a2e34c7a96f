namespace Tachyscope.Reports.Studies;

/// <summary>The sign that says what a tone says, for whoever sees no colour.</summary>
public static class ToneSign
{
    /// <summary>The sign of a tone.</summary>
    /// <param name="tone">The tone.</param>
    public static string Sign(this Tone tone) => tone switch
    {
        Tone.Good => "▲",
        Tone.Bad => "▼",
        Tone.Even => "=",
        Tone.Open => "?",
        Tone.Failed => "✗",
        _ => "·",
    };
}
