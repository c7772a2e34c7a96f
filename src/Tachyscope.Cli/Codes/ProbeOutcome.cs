using Tachyscope.Analysis.Findings;
using Tachyscope.Code.Reasons;
using Tachyscope.Code.Variants;

namespace Tachyscope.Cli.Codes;

/// <summary>What was measured of a study, as it is and with reasons taken away.</summary>
internal sealed record ProbeOutcome
{
    /// <summary>The study as it is; null when it could not be measured.</summary>
    public StudyFindings? Plain { get; init; }

    /// <summary>The study under each switch, with the code it had there.</summary>
    public IReadOnlyList<(Probe Probe, IReadOnlyList<VariantCode> Codes, StudyFindings Findings)> Probed { get; init; } = [];

    /// <summary>What went wrong, a sentence each.</summary>
    public IReadOnlyList<string> Problems { get; init; } = [];
}
