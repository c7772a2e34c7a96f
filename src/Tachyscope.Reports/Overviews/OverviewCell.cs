using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Overviews;

/// <summary>What is known of a variant on one input, as short as can be.</summary>
public sealed record OverviewCell
{
    /// <summary>The factor on the baseline's time, such as "÷ 2.43"; the time of what is compared with nothing; a word where there is
    /// neither.</summary>
    public required string Figure { get; init; }

    /// <summary>The reach of its interval, such as "± 0.11" or "(1.01 to 1.40)"; empty where it has none.</summary>
    public string Reach { get; init; } = "";

    /// <summary>Time per call, such as "224 ns"; empty when not timed.</summary>
    public string Time { get; init; } = "";

    /// <summary>Bytes allocated per call; empty where no two variants differ.</summary>
    public string Bytes { get; init; } = "";

    /// <summary>What it says.</summary>
    public required Tone Tone { get; init; }

    /// <summary>The same as a sign; empty for what is compared with nothing, and has nothing to sign.</summary>
    public string Sign => Tone is Tone.Reference or Tone.Aside ? "" : Tone.Sign();

    /// <summary>The same in a word.</summary>
    public required string Verdict { get; init; }

    /// <summary>Whether there is a reason to distrust it.</summary>
    public bool IsDoubted { get; init; }
}
