using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Keeps rounds out of the figures that read code before it was made for the last time.</summary>
/// <param name="Study">The study without them; the study itself where there are none.</param>
/// <param name="Early">The sittings that have such rounds.</param>
internal sealed record LastTier(StudyRecord Study, IReadOnlyList<EarlyRounds> Early)
{
    private static readonly ConditionalWeakTable<SittingRecord, EarlyRounds> Looked = [];

    /// <summary>Looks at every sitting of a study.</summary>
    /// <param name="study">The study.</param>
    public static LastTier Of(StudyRecord study)
    {
        EarlyRounds[] all = [.. study.Sittings.Select(sitting => Looked.GetValue(sitting, EarlyRounds.Of))];
        EarlyRounds[] early = [.. all.Where(sitting => sitting.Count > 0)];
        return early.Length == 0
            ? new LastTier(study, [])
            : new LastTier(study with { Sittings = [.. all.Select(sitting => sitting.Sitting)] }, early);
    }
}
