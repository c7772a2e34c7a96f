using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// A cell in each of a study's sittings, or two that are compared, and which of their readings tell what they take beside a quiet core.
/// </summary>
internal sealed class CoreReadings
{
    // In so many of the sittings there has to be enough of what was read beside a quiet core, for these to stand for all.
    private const double LeastShare = 0.5;
    private const int LeastSittings = 2;
    private const double Mostly = 0.5;

    private readonly List<(SittingFigures Figures, int? Cell, int? Other)> _sittings;
    private readonly List<(SittingFigures Figures, int Cell, int? Other)> _known;
    private readonly bool _isPair;
    private readonly bool _areBuilds;

    private CoreCovariate.Rounds?[]? _rounds;
    private CoreReadings[]? _singles;

    private CoreReadings(IEnumerable<(SittingFigures Figures, int? Cell, int? Other)> sittings, bool isPair, bool areBuilds)
    {
        (_sittings, _isPair, _areBuilds) = ([.. sittings], isPair, areBuilds);
        _known = [.. _sittings.Where(sitting => sitting.Cell is not null)
            .Select(sitting => (sitting.Figures, sitting.Cell!.Value, sitting.Other))];
    }

    /// <summary>Readings of one cell.</summary>
    /// <param name="sittings">Each sitting, with the cell; null where it has none.</param>
    public static CoreReadings Of(IEnumerable<(SittingFigures Figures, int? Cell)> sittings)
        => new(sittings.Select(sitting => (sitting.Figures, sitting.Cell, (int?)null)), isPair: false, areBuilds: false);

    /// <summary>Readings of two cells, in the sittings that have both.</summary>
    /// <param name="own">Each sitting, with the first; null where it has none.</param>
    /// <param name="others">The same of the one it is compared with.</param>
    /// <param name="areBuilds">Whether they are of one operation, built for two targets or of two revisions.</param>
    public static CoreReadings Of(
        IEnumerable<(SittingFigures Figures, int? Cell)> own, IEnumerable<(SittingFigures Figures, int? Cell)> others, bool areBuilds)
        => new(own.Zip(others, (cell, other) => (cell.Figures, other.Cell is null ? null : cell.Cell, other.Cell)), isPair: true,
            areBuilds);

    /// <summary>
    /// Whether some sitting has too few readings beside a quiet core, of cells for which it matters who uses it.
    /// </summary>
    public bool AreShared => AreOfCore && !_known.TrueForAll(HasEnough);

    /// <summary>
    /// Whether what they take beside a quiet core is known: read there, or told by rounds that were shared more and less.
    /// </summary>
    public bool AreKnown => !AreAsRead || SharedShare <= Mostly;

    /// <summary>
    /// Whether all rounds count, brought to a quiet core by how much of it was shared. Builds of one operation suffer so much alike that
    /// the rounds in which they did tell as much of them as quiet ones.
    /// </summary>
    public bool AreAdjusted => _areBuilds ? AreOfCore && SharedShare > 0 : AreShared && AreTold;

    // Neither read beside a quiet core nor told.
    private bool AreAsRead => AreShared && !AreMostlyEnough && !AreTold;

    // Each of the two that are compared, and not by rounds of both, nor both as they came.
    private bool AreKnownApart => _isPair && !_areBuilds && Array.TrueForAll(Singles, static single => single.AreKnown)
        && !Array.TrueForAll(Singles, static single => single.AreAsRead);

    // The two that are compared, each by itself.
    private CoreReadings[] Singles => _singles ??= [Of(_sittings.Select(static sitting => (sitting.Figures, sitting.Cell))),
        Of(_sittings.Select(static sitting => (sitting.Figures, sitting.Other)))];

    private bool AreOfCore => _known.TrueForAll(sitting => IsOfCore(sitting.Figures, sitting.Cell)
        && (sitting.Other is not { } other || IsOfCore(sitting.Figures, other)));

    // One sitting that read enough beside a quiet core speaks for the others too, and how well it does is in the values.
    private bool AreTold => CoreCovariate.IsTold(Rounds) || (!AreMostlyEnough && _known.Exists(HasEnough));

    private bool AreMostlyEnough => _known.Count(HasEnough) >= Math.Max(Math.Min(LeastSittings, _known.Count), LeastShare * _known.Count);

    private double SharedShare => SampleStatistics.Mean([.. Rounds.OfType<CoreCovariate.Rounds>()
        .Select(rounds => rounds.SharedShare)]);

    private CoreCovariate.Rounds?[] Rounds => _rounds ??= [.. _sittings.Select(sitting
        => sitting.Cell is { } cell ? sitting.Figures.RoundsOfAnyCore(cell, sitting.Other, AreCallsUnforeseen) : null)];

    private bool AreCallsUnforeseen => _known.Exists(static sitting => sitting.Figures.Taken.AreCallsUnforeseen);

    /// <summary>One value for each sitting.</summary>
    /// <param name="figure">The figure of a sitting.</param>
    /// <param name="ofLog">The figure, of its logarithm in links of the metronome; null where it is that.</param>
    /// <returns>NaN where a sitting has none.</returns>
    public double[] Values(Func<SittingFigures, int, int?, double> figure, Func<double, double>? ofLog)
    {
        if (AreAdjusted)
        {
            return CoreCovariate.Values(Rounds, _areBuilds, ofLog);
        }

        var (areShared, areAsRead) = (AreShared, AreAsRead);
        if (areAsRead && AreKnownApart)
        {
            // So that the ratio is of the state that its times are of.
            return [.. Singles[0].LogTimes.Zip(Singles[1].LogTimes, static (own, other) => own - other)];
        }

        return [.. _sittings.Select(sitting => sitting.Cell is not { } cell ? double.NaN
            : !areShared ? figure(sitting.Figures, cell, sitting.Other)
            : areAsRead ? figure(SittingFigures.Of(sitting.Figures.Record, CoreState.Any), cell, sitting.Other)
            : HasEnough((sitting.Figures, cell, sitting.Other)) ? figure(sitting.Figures, cell, sitting.Other) : double.NaN)];
    }

    private double[] LogTimes => Values(static (sitting, cell, _) => Math.Log(sitting.MiddleTime(cell, 1)), ofLog: null);

    private static bool IsOfCore(SittingFigures figures, int cell) => figures.State == CoreState.Quiet && figures.IsOfCore(cell);

    private static bool HasEnough((SittingFigures Figures, int Cell, int? Other) sitting)
        => sitting.Figures.HasEnough(sitting.Cell) && (sitting.Other is not { } other || sitting.Figures.HasEnough(other));
}
