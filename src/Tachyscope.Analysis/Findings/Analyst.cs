using Tachyscope.Analysis.Dials;
using Tachyscope.Analysis.Doubts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Machines;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Reads a run: readings in, findings out. Pure.</summary>
/// <remarks>docs/method.md describes each step and the papers it rests on.</remarks>
public static class Analyst
{
    /// <summary>Findings of every study of a run, in order, by the defaults.</summary>
    /// <param name="run">The run.</param>
    public static IReadOnlyList<StudyFindings> Examine(Run run) => Examine(run, AnalysisOptions.Default);

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

        var sound = SoundReadings.Of(OnTarget(study, options.Target));
        return Examine(run.Targets.Count == 0
            ? run
            : run with { Environment = run.Targets[options.Target].Environment }, sound.Study, options, sound);
    }

    // What a guest's language cannot tell is no fault of the system's.
    private static IEnumerable<SignalCount> OwnSignals(SittingFigures sitting)
    {
        var guests = sitting.Record.Cells.Select((cell, index) => (IsGuest: cell.Guest is not null, Signals: sitting.Signals[index]))
            .ToList();
        var own = guests.FindAll(cell => !cell.IsGuest || !double.IsNaN(cell.Signals.ProcessorNanosecondsPerCall));
        return (own.Count > 0 ? own : guests).Select(cell => cell.Signals);
    }

    private static StudyFindings Examine(Run run, StudyRecord study, AnalysisOptions options, SoundReadings sound)
    {
        var warm = LastTier.Of(study);
        var copies = CopyAgreement.Of(warm.Study);
        study = copies.Study;
        var state = StudyCore.StateOf(study.Sittings);
        var sittings = StudyCore.Figures(study.Sittings, state);
        var margin = options.MarginShare ?? run.Plan.MarginShare;
        var reference = StudyCore.ReferenceBeat(sittings, state);
        double[] beats = [.. sittings.SelectMany(sitting => sitting.Taken.AllBeats)];
        var read = options with { IntervalLevel = LevelOf(run, options) };
        var views = Views(study, sittings, reference, read, margin);
        InputExaminer[] examiners = [.. Enumerable.Range(0, study.Study.Inputs.Count)
            .Select(input => new InputExaminer(views, input, read))];
        InputFindings[] inputs = [.. examiners.Select(examiner => examiner.Examine(run.Limits))];
        var findings = new StudyFindings
        {
            Study = study.Study,
            Inputs = inputs,
            Caveats = [],
            Against = options.Against,
            Sittings = views.Together.Sittings,
            Copies = study.Sittings.Where(sitting => !sitting.IsApart).Select(sitting => sitting.Copies).DefaultIfEmpty(1).Max(),
            CopiesProblem = study.Sittings.Select(sitting => sitting.CopiesProblem).FirstOrDefault(problem => problem is not null),
            SittingsApart = views.Apart?.Sittings ?? 0,
            SittingsHeld = views.Held?.Sittings ?? 0,
            Rounds = study.Sittings.Sum(sitting => sitting.Rounds),
            Seconds = study.Sittings.Count == 0
                ? 0
                : study.Sittings.Max(sitting => sitting.EndedSeconds) - study.Sittings.Min(sitting => sitting.BeganSeconds),
            MarginShare = margin,
            IntervalLevel = options.IntervalLevel,
            NanosecondsPerLink = beats.Length == 0 ? double.NaN : reference,
            Metronome = NoiseFindings.Of(beats, sittings.Sum(sitting => sitting.Taken.InterruptedBeats)),
            Core = Core(sittings, state) with { IsAdjusted = views.Together.IsAnyAdjusted },
            Signals = SignalCount.Sum(sittings.SelectMany(OwnSignals)),
        };
        if (options.AreContrastsOnly)
        {
            return findings;
        }

        Ranker[] rankers = [.. examiners.Select(examiner => examiner.Ranker)];
        return findings with
        {
            Growth = [.. GrowthFinder.Find(views.Together, rankers)],
            Dials = [.. DialFinder.Find(views.Together, rankers)],
            Decisions = [.. DecisionFinder.Find(views.Together, rankers)],
            Flip = FlipFinder.Find(study.Study, inputs),
            Caveats = [.. CaveatFinder.Find(new CaveatGround(run, study, findings, views.Together, sittings, sound, warm, copies))],
        };
    }

    /// <summary>Level at which a run's intervals are read, so that they hold at the level asked for.</summary>
    internal static double LevelOf(Run run, AnalysisOptions options)
        => run.Plan.PrecisionShare is null ? options.IntervalLevel : StoppedWhenNarrow.Level(options.IntervalLevel);

    private static CoreFindings Core(List<SittingFigures> sittings, CoreState state)
    {
        var (all, quiet) = (sittings.Sum(sitting => sitting.Taken.Gauged.All), sittings.Sum(sitting => sitting.Taken.Gauged.Quiet));
        var reading = sittings.Sum(sitting => sitting.Record.Readings.Sum(taken => taken.ElapsedNanoseconds)) * 1e-6;
        return new CoreFindings
        {
            IsKnown = sittings.Exists(sitting => sitting.Taken.IsGauged && Enumerable.Range(0, sitting.Record.Cells.Count)
                .Any(cell => sitting.Record.Cells[cell].Kind == CellKind.Variant && sitting.IsOfCore(cell))),
            IsQuiet = state == CoreState.Quiet,
            QuietShare = (double)quiet / all,
            Calls = CallFindings.Of(sittings.SelectMany(sitting => sitting.Taken.CallMoments)),
            SoughtShare = sittings.Sum(sitting => sitting.Record.SoughtMilliseconds) / Math.Max(1e-9, reading),
        };
    }

    // What was told of a target, and how its own workers call.
    private static StudyRecord OnTarget(StudyRecord study, int target)
    {
        var paths = study.Sittings.SelectMany(sitting => sitting.Cells)
            .Where(cell => cell.Kind == CellKind.Variant && cell.Target == target)
            .DistinctBy(cell => cell.Variant)
            .ToDictionary(cell => cell.Variant, cell => cell.Loop.Path);
        return study with
        {
            Study = study.Study with
            {
                Variants = [.. study.Study.Variants.Select((row, index) => row with
                {
                    Loop = row.Loop with { Path = paths.GetValueOrDefault(index, row.Loop.Path) },
                })],
            },
            // What was measured on another machine holds nothing of this target.
            Sittings = [.. study.Sittings.Where(sitting => sitting.Cells.Any(cell => cell.Target == target))],
            Failures = [.. study.Failures.Where(failure => failure.Target == target)],
            Observations = [.. study.Observations.Where(seen => seen.Target == target)],
            Diagnoses = [.. study.Diagnoses.Where(found => found.Target == target)],
        };
    }

    private static SittingsViews Views(
        StudyRecord study, List<SittingFigures> sittings, double referenceBeat, AnalysisOptions options, double marginShare)
    {
        SittingsView View(Func<SittingFigures, bool> isMeant) => new(
            study, [.. sittings.Where(isMeant)], referenceBeat, options.IntervalLevel, marginShare, options.Target);
        // Where the collector is kept out in all sittings, that is what was asked to be measured.
        var isCompared = sittings.Exists(sitting => sitting.Taken.IsCollectionHeld)
            && sittings.Exists(sitting => !sitting.Taken.IsCollectionHeld);
        bool IsTogether(SittingFigures sitting) => !sitting.Record.IsApart && !(isCompared && sitting.Taken.IsCollectionHeld);
        var repeats = sittings.Select(sitting => sitting.Record.Repeat).Distinct().Order().ToList();
        return new SittingsViews(
            View(IsTogether),
            sittings.Exists(sitting => sitting.Record.IsApart) ? View(sitting => sitting.Record.IsApart) : null,
            isCompared ? View(sitting => sitting.Taken.IsCollectionHeld && !sitting.Record.IsApart) : null,
            repeats.Count > 1 ? [.. repeats.Select(repeat => (repeat,
                View(sitting => IsTogether(sitting) && sitting.Record.Repeat == repeat)))] : []);
    }
}
