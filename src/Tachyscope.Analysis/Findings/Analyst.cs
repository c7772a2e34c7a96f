using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Reads a run: readings in, findings out. Pure.</summary>
/// <remarks>docs/method.md describes each step and the papers it rests on.</remarks>
public static class Analyst
{
    // What the loop leaves in a figure: docs/method.md, "The measured loop".
    private const double DirectFloorNanoseconds = 0.1;
    private const double DelegateFloorNanoseconds = 1;

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
        InputFindings[] inputs = [.. Enumerable.Range(0, study.Study.Inputs.Count).Select(input => Examine(view, input))];
        return new StudyFindings
        {
            Study = study.Study,
            Inputs = inputs,
            Caveats = [.. Caveats.Of(run, study, inputs, sittings, margin)],
            Sittings = study.Sittings.Count,
            Rounds = study.Sittings.Sum(sitting => sitting.Rounds),
        };
    }

    private static InputFindings Examine(StudyView view, int input)
    {
        var study = view.Record.Study;
        var baseline = Enumerable.Range(0, study.Variants.Count).First(variant => study.Variants[variant].IsBaseline);
        var contrasts = study.Variants.Count - 1;
        var twin = view.TimeRatio(CellKind.Twin, baseline, baseline, input, view.Level);
        var floor = Judge.FloorShare(twin);
        // Bonferroni: all intervals of a table hold together at the level asked for.
        var level = 1 - ((1 - view.Level) / Math.Max(1, contrasts));
        return new InputFindings
        {
            Input = study.Inputs[input],
            TwinTimeRatio = twin,
            FloorShare = floor,
            Cells = [.. Enumerable.Range(0, study.Variants.Count).Select(variant => Cell(view, variant, baseline, input, level, floor))],
        };
    }

    private static CellFindings Cell(StudyView view, int variant, int baseline, int input, double level, double floor)
    {
        var description = view.Record.Study.Variants[variant];
        var failure = view.Failure(variant, input);
        var time = failure is null ? view.Time(variant, input) : Interval.Unknown(view.Level);
        var least = description.Path == CallPath.Direct ? DirectFloorNanoseconds : DelegateFloorNanoseconds;
        var signals = SignalCount.Sum(view.Signals(variant, input));
        return new CellFindings
        {
            Variant = description,
            Failure = failure,
            NanosecondsPerCall = time,
            IsResolved = !time.IsKnown || time.Estimate > least,
            AllocatedBytesPerCall = signals.AllocatedBytesPerCall,
            Contrast = variant == baseline || failure is not null || view.Failure(baseline, input) is not null
                ? null
                : Contrast(view, variant, baseline, input, level, floor),
            Signals = signals,
            SettledSittings = view.SettledSittings(variant, input),
        };
    }

    private static Contrast Contrast(StudyView view, int variant, int baseline, int input, double level, double floor)
    {
        var ratio = view.TimeRatio(CellKind.Variant, variant, baseline, input, level);
        return new Contrast { TimeRatio = ratio, Verdict = Judge.Decide(ratio, floor, view.MarginShare) };
    }
}
