namespace Tachyscope.Analysis.Findings;

/// <summary>The sittings of a study as they are to be read: those of shared workers, those apart, those with the collector kept out beside others with it free, and each repeat by itself.</summary>
internal sealed record StudyViews(StudyView Together, StudyView? Apart, StudyView? Held, IReadOnlyList<(int Repeat, StudyView View)> Repeats);
