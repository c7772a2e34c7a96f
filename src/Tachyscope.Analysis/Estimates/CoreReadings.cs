using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// A cell in each of a study's sittings, or two that are compared, and which of their readings tell what they take beside a quiet core.
/// </summary>
/// <param name="sittings">Each sitting with the cell and the one it is compared with; null where the sitting has none.</param>
/// <param name="isPair">Whether two cells are compared.</param>
/// <param name="areBuilds">Whether these are of one operation, built for two targets or of two revisions.</param>
internal sealed class CoreReadings(
    IReadOnlyList<(SittingFigures Figures, int? Cell, int? Other)> sittings, bool isPair, bool areBuilds = false)
{
    // In so many of the sittings there has to be enough of what was read beside a quiet core, for these to stand for all.
    private const double LeastShare = 0.5;
    private const int LeastSittings = 2;
    private const double Mostly = 0.5;

    private readonly List<(SittingFigures Figures, int Cell, int? Other)> _known = [.. sittings
        .Where(sitting => sitting.Cell is not null && (sitting.Other is not null || !isPair))
        .Select(sitting => (sitting.Figures, sitting.Cell!.Value, sitting.Other))];

    private CoreCovariate.Rounds?[]? _rounds;

    /// <summary>Readings of one cell.</summary>
    public static CoreReadings Of(IEnumerable<(SittingFigures Figures, int? Cell)> sittings)
        => new([.. sittings.Select(sitting => (sitting.Figures, sitting.Cell, (int?)null))], isPair: false);

    /// <summary>
    /// Whether some sitting has too few readings beside a quiet core, of cells for which it matters who uses it.
    /// </summary>
    public bool AreShared => AreOfCore && !_known.TrueForAll(HasEnough);

    /// <summary>
    /// Whether what they take beside a quiet core is known: read there, or told by rounds that were shared more and less.
    /// </summary>
    public bool AreKnown => !AreShared || AreMostlyEnough || AreTold || SharedShare <= Mostly;

    /// <summary>
    /// Whether all rounds count, brought to a quiet core by how much of it was shared. Builds of one operation suffer so much alike that
    /// the rounds in which they did tell as much of them as quiet ones.
    /// </summary>
    public bool AreBrought => areBuilds ? AreOfCore && SharedShare > 0 : AreShared && AreTold;

    private bool AreOfCore => _known.TrueForAll(sitting => IsOfCore(sitting.Figures, sitting.Cell)
        && (sitting.Other is not { } other || IsOfCore(sitting.Figures, other)));

    private bool AreTold => CoreCovariate.IsTold(Rounds);

    private bool AreMostlyEnough => _known.Count(HasEnough) >= Math.Max(Math.Min(LeastSittings, _known.Count), LeastShare * _known.Count);

    private double SharedShare => SampleStatistics.Mean([.. Rounds.OfType<CoreCovariate.Rounds>()
        .Select(rounds => rounds.SharedShare)]);

    private CoreCovariate.Rounds?[] Rounds => _rounds ??= [.. sittings.Select(sitting
        => sitting.Cell is { } cell && (sitting.Other is not null || !isPair)
            ? sitting.Figures.RoundsOfAnyCore(cell, sitting.Other)
            : null)];

    /// <summary>One value for each sitting.</summary>
    /// <param name="figure">The figure of a sitting.</param>
    /// <param name="ofLog">The figure, of its logarithm in links of the metronome.</param>
    /// <returns>NaN where a sitting has none.</returns>
    public double[] Values(Func<SittingFigures, int, int?, double> figure, Func<double, double> ofLog)
    {
        if (AreBrought)
        {
            return [.. CoreCovariate.Values(Rounds, areBuilds).Select(ofLog)];
        }

        var (areShared, areMostlyEnough) = (AreShared, AreMostlyEnough);
        return [.. sittings.Select(sitting => sitting.Cell is not { } cell || (isPair && sitting.Other is null) ? double.NaN
            : !areShared ? figure(sitting.Figures, cell, sitting.Other)
            : !areMostlyEnough ? figure(SittingFigures.Of(sitting.Figures.Record, CoreState.Any), cell, sitting.Other)
            : HasEnough((sitting.Figures, cell, sitting.Other)) ? figure(sitting.Figures, cell, sitting.Other) : double.NaN)];
    }

    private static bool IsOfCore(SittingFigures figures, int cell) => figures.State == CoreState.Quiet && figures.IsOfCore(cell);

    private static bool HasEnough((SittingFigures Figures, int Cell, int? Other) sitting)
        => sitting.Figures.HasEnough(sitting.Cell) && (sitting.Other is not { } other || sitting.Figures.HasEnough(other));
}
