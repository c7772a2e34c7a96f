using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Doubts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Machines;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Reads a run: readings in, findings out. Pure.</summary>
/// <remarks>docs/method.md describes each step and the papers it rests on.</remarks>
public static class Analyst
{
    /// <summary>Findings of every study of a run, in order.</summary>
    /// <param name="run">The run.</param>
    /// <param name="options">How to read it.</param>
    /// <exception cref="ArgumentException">The options are wrong; the message lists every problem.</exception>
    public static IReadOnlyList<StudyFindings> Examine(Run run, AnalysisOptions options)
    {
        ArgumentNullException.ThrowIfNull(run);
        return [.. run.Studies.Select(study => Examine(run, study, options))];
    }

    /// <summary>Findings of one study.</summary>
    /// <param name="run">The run it belongs to.</param>
    /// <param name="study">The study.</param>
    /// <param name="options">How to read it.</param>
    /// <exception cref="ArgumentException">The options are wrong; the message lists every problem.</exception>
    public static StudyFindings Examine(Run run, StudyRecord study, AnalysisOptions options)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(options);
        if (options.Validate() is { Count: > 0 } problems)
        {
            throw new ArgumentException(string.Join(" ", problems), nameof(options));
        }

        var sittings = study.Sittings.Select(sitting => new SittingFigures(sitting)).ToList();
        var margin = options.MarginShare ?? run.Plan.MarginShare;
        var referenceBeat = SampleStatistics.Median([.. sittings.SelectMany(sitting => sitting.Beats)]);
        StudyView View(Func<SittingFigures, bool> isMeant) => new(study, [.. sittings.Where(isMeant)], referenceBeat, options.IntervalLevel, margin);
        var together = View(sitting => !sitting.IsApart);
        var apart = View(sitting => sitting.IsApart);
        var repeats = sittings.Select(sitting => sitting.Repeat).Distinct().Order().ToList();
        var views = new StudyViews(
            together,
            study.Sittings.Any(sitting => sitting.IsApart) ? apart : null,
            repeats.Count > 1 ? [.. repeats.Select(repeat => (repeat, View(sitting => !sitting.IsApart && sitting.Repeat == repeat)))] : []);
        InputFindings[] inputs = [.. Enumerable.Range(0, study.Study.Inputs.Count).Select(input => Examine(views, input, run.Limits))];
        var findings = new StudyFindings
        {
            Study = study.Study,
            Inputs = inputs,
            Caveats = [],
            Sittings = study.Sittings.Count(sitting => !sitting.IsApart),
            SittingsApart = study.Sittings.Count(sitting => sitting.IsApart),
            Rounds = study.Sittings.Sum(sitting => sitting.Rounds),
            MarginShare = margin,
            Metronome = NoiseFindings.Of([.. study.Sittings.SelectMany(sitting => sitting.Readings.Where(reading => sitting.Cells[reading.Cell].Kind == CellKind.Metronome))]),
            Signals = SignalCount.Sum(sittings.SelectMany(sitting => sitting.Signals)),
        };
        return !options.AreCaveatsSought ? findings : findings with { Caveats = [.. CaveatFinder.Find(new CaveatGround(run, study, findings, together, sittings))] };
    }

    private static InputFindings Examine(StudyViews views, int input, MachineLimits? limits)
    {
        var view = views.Together;
        var study = view.Record.Study;
        var rows = Enumerable.Range(0, study.Variants.Count)
            .Where(row => !(study.Inputs[input].IsMix && study.Variants[row].Part == VariantPart.Prepare))
            .ToList();
        var references = rows.Where(row => study.Variants[row] is { IsBaseline: true } and not { Part: VariantPart.Prepare }).ToList();
        // Bonferroni: all intervals of a table hold together at the level asked for.
        var contrasts = rows.Count(row => study.Reference(row) is { } reference && reference != row);
        var level = 1 - ((1 - view.Level) / Math.Max(1, contrasts));
        var twins = Twins(view, references, input);
        var repeats = views.Repeats.Select(repeat => (repeat.Repeat, repeat.View, Twins: Twins(repeat.View, references, input))).ToList();
        Contrast? Against(int row)
        {
            if (study.Reference(row) is not { } reference || reference == row || view.Failure(row, input) is not null || view.Failure(reference, input) is not null)
            {
                return null;
            }

            var (ratio, verdict) = Compare(view, twins, row, reference, input, level);
            return new Contrast
            {
                TimeRatio = ratio,
                Verdict = verdict,
                ApartTimeRatio = views.Apart?.TimeRatio(CellKind.Variant, row, reference, input, level),
                Repeats = [.. repeats.Select(repeat =>
                {
                    var (ratio, verdict) = Compare(repeat.View, repeat.Twins, row, reference, input, level);
                    return new RepeatedContrast(repeat.Repeat, ratio, verdict);
                })],
            };
        }

        return new InputFindings
        {
            Input = study.Inputs[input],
            TwinTimeRatio = twins.Values.FirstOrDefault(Interval.Unknown(view.Level)),
            FloorShare = twins.Count == 0 ? double.PositiveInfinity : twins.Values.Max(Judge.FloorShare),
            Cells = [.. rows.Select(row => new CellExaminer(view, row, input, limits).Examine(Against(row)))],
        };
    }

    private static Dictionary<int, Interval> Twins(StudyView view, IReadOnlyList<int> references, int input)
        => references.ToDictionary(row => row, row => view.TimeRatio(CellKind.Twin, row, row, input, view.Level));

    // Preparations have no twin of their own; they are no finer than the uses of the same baseline.
    private static (Interval Ratio, Verdict Verdict) Compare(
        StudyView view, Dictionary<int, Interval> twins, int row, int reference, int input, double level)
    {
        var floor = Judge.FloorShare(twins.TryGetValue(reference, out var twin) ? twin : twins.Values.FirstOrDefault(Interval.Unknown(view.Level)));
        var ratio = view.TimeRatio(CellKind.Variant, row, reference, input, level);
        return (ratio, Judge.Decide(ratio, floor, view.MarginShare));
    }
}
