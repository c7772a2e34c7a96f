using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Targets;

/// <summary>Reads a run on several targets: each by itself, and each row against itself on the first. Pure.</summary>
/// <remarks>
/// Targets cannot share a process: their workers are alive at once, and rounds go through all of them. Held to one processor a
/// round, they are compared as they are; elsewhere each time is divided by the metronome of its own worker at its own turn first.
/// </remarks>
public static class TargetAnalyst
{
    /// <summary>Findings of one study on every target.</summary>
    /// <param name="run">The run.</param>
    /// <param name="study">The study.</param>
    /// <param name="options">How to read it; its target is of no account.</param>
    /// <exception cref="ArgumentException">The options are wrong; the message lists every problem.</exception>
    public static StudyOnTargets Examine(Run run, StudyRecord study, AnalysisOptions options)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(options);
        var count = Math.Max(1, run.Targets.Count);
        StudyFindings[] targets = [.. Enumerable.Range(0, count).Select(target => Analyst.Examine(run, study, options with { Target = target }))];
        var sound = SoundReadings.Of(study).Study;
        var sittings = sound.Sittings.Select(sitting => new SittingFigures(sitting)).Where(sitting => !sitting.IsApart && !sitting.IsCollectionHeld).ToList();
        var repeats = sittings.Select(sitting => sitting.Repeat).Distinct().Order().ToList();
        var first = View(sittings, 0);
        return new StudyOnTargets(targets, [.. from target in Enumerable.Range(1, count - 1)
            let view = View(sittings, target)
            let single = repeats.Count < 2 ? [] : repeats.ConvertAll(repeat => View([.. sittings.Where(sitting => sitting.Repeat == repeat)], target))
            from input in Enumerable.Range(0, study.Study.Inputs.Count)
            from contrast in Contrasts(view, input, new Floors([first, view], input))
            select contrast with
            {
                Repeats = [.. single.Select(repeat => SampleMean.Of(repeat.LogRatiosOverTarget(contrast.Row, input, 0)).At(contrast.TimeRatio.Level).Through(Math.Exp))],
            }]);

        StudyView View(IReadOnlyList<SittingFigures> of, int target) => new(sound, of, 1, options.IntervalLevel, targets[0].MarginShare, target);
    }

    private static IEnumerable<TargetContrast> Contrasts(StudyView view, int input, Floors floors)
    {
        var rows = Enumerable.Range(0, view.Record.Study.Variants.Count).ToList();
        var means = rows.ConvertAll(row => SampleMean.Of(view.LogRatiosOverTarget(row, input, 0)));
        var levels = Holm.Levels([.. rows.Select(row => means[row].ProbabilityWithin(Math.Log(1 + floors.Of(row))))], view.Level);
        return rows.Where(row => means[row].Count > 0).Select(row =>
        {
            var ratio = means[row].At(levels[row]).Through(Math.Exp);
            return new TargetContrast(row, input, view.Target, ratio, Judge.Decide(ratio, floors.Of(row), view.MarginShare));
        });
    }
}
