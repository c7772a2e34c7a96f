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
        StudyFindings[] targets = [.. Enumerable.Range(0, count)
            .Select(target => Analyst.Examine(run, study, options with { Target = target }))];
        var sound = CopyAgreement.Of(LastTier.Of(SoundReadings.Of(study).Study).Study).Study;
        var sittings = StudyCore.Figures(sound.Sittings, StudyCore.StateOf(sound.Sittings))
            .Where(sitting => !sitting.Record.IsApart && !sitting.Taken.IsCollectionHeld).ToList();
        var repeats = sittings.Select(sitting => sitting.Record.Repeat).Distinct().Order().ToList();
        var first = View(sittings, 0);
        (TargetContrast Contrast, Func<double, Interval> OneSided)[] all = [.. from target in Enumerable.Range(1, count - 1)
            let pairing = View(sittings, target)
            // Measured on another machine, no sitting holds both.
            let isApart = !sittings.Exists(sitting => Holds(sitting, 0) && Holds(sitting, target))
            let single = repeats.Count < 2
                ? []
                : repeats.ConvertAll(repeat => View([.. sittings.Where(sitting => sitting.Record.Repeat == repeat)], target))
            from input in Enumerable.Range(0, study.Study.Inputs.Count)
            from found in Contrasts(pairing, input, new Resolutions([first, pairing], input),
                row => isApart ? pairing.OverMachine(first, row, input) : pairing.OverTarget(row, input, 0))
            select found with { Contrast = found.Contrast with { Repeats = isApart ? []
                : [.. single.Select(repeat => repeat.OverTarget(found.Contrast.Row, input, 0).At(found.Contrast.TimeRatio.Level))] } }];
        var twoSided = new StudyOnTargets(targets, [.. all.Select(found => found.Contrast)]);
        // What ran until its time was over did not end for looking narrow.
        var level = run.Plan.PrecisionShare is { } precision && twoSided.IsPreciseAcross(precision) ? Analyst.LevelOf(run, options)
            : options.IntervalLevel;
        return twoSided with
        {
            Contrasts = [.. all.Select(found => found.Contrast with { OneSidedTimeRatio = found.OneSided(level) })],
        };

        // Times of a target are stated at the metronome of the machine it is on.
        Pairing View(IReadOnlyList<SittingFigures> of, int target)
        {
            var isElsewhere = run.Targets.ElementAtOrDefault(target)?.Machine is not null;
            var own = isElsewhere ? of.Where(sitting => Holds(sitting, target)).ToList() : of;
            var beat = isElsewhere ? targets[target].NanosecondsPerLink : 1;
            return new Pairing(new SittingsView(sound, own, beat, Analyst.LevelOf(run, options), targets[0].MarginShare, target));
        }
    }

    private static bool Holds(SittingFigures sitting, int target) => sitting.Record.Cells.Any(cell => cell.Target == target);

    private static IEnumerable<(TargetContrast Contrast, Func<double, Interval> OneSided)> Contrasts(
        Pairing pairing, int input, Resolutions resolutions, Func<int, RatioSeries> ratioOf)
    {
        var view = pairing.View;
        var rows = Enumerable.Range(0, view.Record.Study.Variants.Count)
            .Select(row => (Row: row, Ratio: ratioOf(row), Share: resolutions.Of(row))).ToList();
        double[] probabilities = [.. rows.Select(row => row.Ratio.ProbabilityWithin(Math.Log(1 + row.Share)))];
        var levels = FamilyLevels.Of(probabilities, view.Level);
        return rows.Select((row, index) => (row, Test: levels.Tests[index])).Where(found => found.row.Ratio.Mean.Count > 0).Select(found =>
        {
            var (ratio, verdict) = Judge.Decide(found.row.Ratio.At, found.Test, levels.Quoted, found.row.Share, view.MarginShare);
            Interval OneSided(double level) => found.row.Ratio.At(FamilyLevels.Of(probabilities, level).OneSided);
            return (new TargetContrast(found.row.Row, input, view.Target, ratio, OneSided(view.Level), verdict),
                (Func<double, Interval>)OneSided);
        });
    }
}
