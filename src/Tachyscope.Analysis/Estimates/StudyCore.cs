using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Decides which readings of a study its figures are made of: by the gauges beside them, never by the readings themselves.
/// </summary>
internal static class StudyCore
{
    /// <summary>
    /// The state whose readings figures of a study are made of: quiet, where it is told of half of its cells and more what they take then,
    /// else any, so that what stands together is of one state.
    /// </summary>
    /// <param name="sittings">Its sittings.</param>
    public static CoreState StateOf(IReadOnlyList<SittingRecord> sittings)
    {
        if (!sittings.All(sitting => SittingFigures.Of(sitting, CoreState.Any).Taken.IsGauged))
        {
            return CoreState.Any;
        }

        var cells = from sitting in sittings
                    let figures = SittingFigures.Of(sitting, CoreState.Quiet)
                    from cell in Enumerable.Range(0, sitting.Cells.Count)
                    let found = sitting.Cells[cell]
                    where found is { Kind: CellKind.Variant, Copy: 0 } && figures.IsOfCore(cell)
                    group (figures, (int?)cell) by (found.Variant, found.Input, LoopWay.Of(found.Loop), found.Target, sitting.IsApart);
        bool[] known = [.. cells.Select(cell => CoreReadings.Of(cell).AreKnown)];
        return known.Contains(true) && 2 * known.Count(static isKnown => isKnown) >= known.Length ? CoreState.Quiet : CoreState.Any;
    }

    /// <summary>The sittings, with figures made of the readings of a state.</summary>
    public static List<SittingFigures> Figures(IEnumerable<SittingRecord> sittings, CoreState state)
        => [.. sittings.Select(sitting => SittingFigures.Of(sitting, state))];
}
