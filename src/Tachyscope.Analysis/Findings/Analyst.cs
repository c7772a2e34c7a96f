using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
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
        var view = new StudyView(study, sittings, referenceBeat, options.IntervalLevel, margin);
        InputFindings[] inputs = [.. Enumerable.Range(0, study.Study.Inputs.Count).Select(input => Examine(view, input, run.Limits))];
        return new StudyFindings
        {
            Study = study.Study,
            Inputs = inputs,
            Caveats = [.. Caveats.Of(run, study, inputs, sittings, margin)],
            Sittings = study.Sittings.Count,
            Rounds = study.Sittings.Sum(sitting => sitting.Rounds),
        };
    }

    private static InputFindings Examine(StudyView view, int input, MachineLimits? limits)
    {
        var study = view.Record.Study;
        var rows = Enumerable.Range(0, study.Variants.Count)
            .Where(row => !(study.Inputs[input].IsMix && study.Variants[row].Part == VariantPart.Prepare))
            .ToList();
        var references = rows.Where(row => study.Variants[row] is { IsBaseline: true } and not { Part: VariantPart.Prepare }).ToList();
        var twins = references.ToDictionary(row => row, row => view.TimeRatio(CellKind.Twin, row, row, input, view.Level));
        // Bonferroni: all intervals of a table hold together at the level asked for.
        var contrasts = rows.Count(row => study.Reference(row) is { } reference && reference != row);
        var level = 1 - ((1 - view.Level) / Math.Max(1, contrasts));
        Contrast? Against(int row)
        {
            if (study.Reference(row) is not { } reference || reference == row || view.Failure(row, input) is not null || view.Failure(reference, input) is not null)
            {
                return null;
            }

            // Preparations have no twin of their own; they are no finer than the uses of the same baseline.
            var floor = Judge.FloorShare(twins.TryGetValue(reference, out var twin) ? twin : twins.Values.FirstOrDefault(Interval.Unknown(view.Level)));
            var ratio = view.TimeRatio(CellKind.Variant, row, reference, input, level);
            return new Contrast { TimeRatio = ratio, Verdict = Judge.Decide(ratio, floor, view.MarginShare) };
        }

        return new InputFindings
        {
            Input = study.Inputs[input],
            TwinTimeRatio = twins.Values.FirstOrDefault(Interval.Unknown(view.Level)),
            FloorShare = twins.Count == 0 ? double.PositiveInfinity : twins.Values.Max(Judge.FloorShare),
            Cells = [.. rows.Select(row => new CellExaminer(view, row, input, limits).Examine(Against(row)))],
        };
    }
}
