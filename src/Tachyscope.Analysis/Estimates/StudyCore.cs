using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Decides which readings of a study its figures are made of: by the gauges beside them, never by the readings themselves.
/// </summary>
internal static class StudyCore
{
    // Of fewer than so many a quarter would be one or two.
    private const int FewestBeats = 10;
    private const double SpeedQuantile = 0.25;

    /// <summary>
    /// Time of one link of the metronome that times are stated at, in nanoseconds: of a quiet core that of the faster turns beside one, a
    /// quarter of them; else the median of all.
    /// </summary>
    /// <param name="sittings">Sittings of a study.</param>
    /// <param name="state">The state its figures are made of.</param>
    /// <remarks>
    /// Beside others a core is slower in steps, by an eighth or a quarter on the machine of docs/method.md, and on one of its own now and
    /// then: the median of all would state the times of one run at another speed than the next.
    /// </remarks>
    public static double ReferenceBeat(IReadOnlyList<SittingFigures> sittings, CoreState state)
    {
        double[] quiet = [.. sittings.SelectMany(sitting => sitting.Taken.QuietBeats)];
        if (state == CoreState.Quiet && quiet.Length >= FewestBeats)
        {
            return SampleStatistics.Quantile(quiet, SpeedQuantile);
        }

        double[] all = [.. sittings.SelectMany(sitting => sitting.Taken.AllBeats)];
        // Workers of languages that have no metronome are told of as they are.
        return all.Length == 0 ? 1 : SampleStatistics.Median(all);
    }

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
