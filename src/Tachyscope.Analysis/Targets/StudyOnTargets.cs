using Tachyscope.Analysis.Findings;

namespace Tachyscope.Analysis.Targets;

/// <summary>What was found of a study on several targets.</summary>
/// <param name="Targets">What was found on each.</param>
/// <param name="Contrasts">Every row compared with itself on the first target.</param>
public sealed record StudyOnTargets(IReadOnlyList<StudyFindings> Targets, IReadOnlyList<TargetContrast> Contrasts);
