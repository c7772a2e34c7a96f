namespace Tachyscope.Reports.Studies;

/// <summary>One variant's row, in words and figures.</summary>
public sealed record StudyRow
{
    /// <summary>Name of the variant.</summary>
    public required string Variant { get; init; }

    /// <summary>Time per call with the reach of its interval.</summary>
    public required string Time { get; init; }

    /// <summary>The interval to draw; null when there is none.</summary>
    public Mark? Mark { get; init; }

    /// <summary>Factor on the baseline's time.</summary>
    public required string Factor { get; init; }

    /// <summary>Share of the baseline's time saved.</summary>
    public required string Saved { get; init; }

    /// <summary>Bytes allocated per call.</summary>
    public required string Bytes { get; init; }

    /// <summary>The verdict in a word.</summary>
    public required string Verdict { get; init; }

    /// <summary>What the verdict means.</summary>
    public required Tone Tone { get; init; }
}
