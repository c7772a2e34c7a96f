using Tachyscope.Analysis.Machines;

namespace Tachyscope.Reports.Machines;

/// <summary>What is to be shown of a machine.</summary>
public sealed record SurveyReport
{
    /// <summary>What the machine is.</summary>
    public required IReadOnlyList<SurveyLine> Machine { get; init; }

    /// <summary>How it does at the moment.</summary>
    public required IReadOnlyList<SurveyLine> Now { get; init; }

    /// <summary>Median time of a link in consecutive stretches of the listening, in nanoseconds.</summary>
    public required IReadOnlyList<double> Trace { get; init; }

    /// <summary>How long the metronome was listened to.</summary>
    public required TimeSpan Heard { get; init; }

    /// <summary>What was found of its steadiness.</summary>
    public required NoiseFindings Noise { get; init; }

    /// <summary>What follows for a run started now.</summary>
    public required string Advice { get; init; }
}
