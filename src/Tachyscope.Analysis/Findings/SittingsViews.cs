using Tachyscope.Analysis.Estimates;

namespace Tachyscope.Analysis.Findings;

/// <summary>
/// The sittings of a study as they are to be read: those of shared workers, those apart, those with the collector kept out beside
/// others with it free, and each repeat by itself.
/// </summary>
internal sealed record SittingsViews(
    SittingsView Together, SittingsView? Apart, SittingsView? Held, IReadOnlyList<(int Repeat, SittingsView View)> Repeats);
