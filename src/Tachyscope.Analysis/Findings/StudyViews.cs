namespace Tachyscope.Analysis.Findings;

/// <summary>The sittings of a study as they are to be read: those of shared workers, those apart, and each repeat by itself.</summary>
internal sealed record StudyViews(StudyView Together, StudyView? Apart, IReadOnlyList<(int Repeat, StudyView View)> Repeats);
