using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Codes;
using Tachyscope.Runs;

namespace Tachyscope.Exports;

/// <summary>What is written to a file: a run and what was found of it.</summary>
/// <param name="Run">The run.</param>
/// <param name="Found">What was found of its studies, in their order.</param>
public sealed record Export(Run Run, IReadOnlyList<StudyOnTargets> Found)
{
    /// <summary>What a gate found of cells, those of the last target; empty without a gate.</summary>
    public IReadOnlyList<GateJudgement> Gate { get; init; } = [];

    /// <summary>What was made of the studies' variants, those of the first target, by the studies' names; empty where that was not looked
    /// at.</summary>
    public IReadOnlyDictionary<string, CodeReport> Codes { get; init; } = new Dictionary<string, CodeReport>();
}
