using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Sittings;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Planning;

/// <summary>How far a run is and how long it will still take, by what was seen so far.</summary>
internal sealed class Forecast(IReadOnlyList<StudyDescription> studies, RunPlan plan, int processors, int targets, TimeProvider clock,
    long started)
{
    // What a study usually takes, in seconds: right only as long as nothing was seen of this run.
    private const double CheckSeconds = 0.3;
    private const double ReadySeconds = 1.2;
    private const double ReadySecondsPerCell = 0.05;
    private const double ReadingSeconds = 0.35;
    private const double RoundSecondsPerCell = 0.7e-3;
    private const int LeastRounds = 10;
    private const double UsualSeconds = 6;

    private readonly double _usualInAll = Math.Max(1e-3, studies.Sum(study => Usual(study, plan, processors, targets)));
    private double _usualDone;
    private double _begun = clock.GetElapsedTime(started).TotalSeconds;
    private double _spentOnDone;

    /// <summary>Time the whole run may still take; null when no time was given.</summary>
    public double? SecondsAllowed => plan.WithinSeconds - Elapsed;

    private double Elapsed => clock.GetElapsedTime(started).TotalSeconds;

    /// <summary>The part of the time left that a study may take, in proportion to what it usually takes.</summary>
    public double? SecondsFor(StudyDescription study)
        => SecondsAllowed is { } left
            ? Math.Max(0, left) * Usual(study, plan, processors, targets) / Math.Max(1e-3, _usualInAll - _usualDone)
            : null;

    public void Done(StudyDescription study)
    {
        _usualDone += Usual(study, plan, processors, targets);
        _spentOnDone += Elapsed - _begun;
        _begun = Elapsed;
    }

    /// <summary>Time left, when a study is known to need some more.</summary>
    /// <param name="study">The study at work.</param>
    /// <param name="secondsLeft">What its comparison still takes, by the sets of sittings held; null before the first.</param>
    public TimeSpan TimeLeft(StudyDescription study, double? secondsLeft)
    {
        if (SecondsAllowed is { } allowed)
        {
            return TimeSpan.FromSeconds(Math.Max(0, allowed));
        }

        var usual = Usual(study, plan, processors, targets);
        var spent = Elapsed - _begun;
        var left = secondsLeft ?? Math.Max(0, usual - spent);
        // What this run's studies take, as a multiple of what they usually do, holds for those to come; less so after one than after many.
        var (seen, took) = secondsLeft is null ? (0, 0) : (usual, spent + left);
        var pace = (UsualSeconds + _spentOnDone + took) / (UsualSeconds + _usualDone + seen);
        return TimeSpan.FromSeconds(left + (pace * Math.Max(0, _usualInAll - _usualDone - usual)));
    }

    /// <summary>Share of the run that is done, when so much is left.</summary>
    public double ShareDone(TimeSpan left) => Elapsed / (Elapsed + left.TotalSeconds);

    /// <summary>What a study usually takes with the default schedule, in seconds.</summary>
    public static double Usual(StudyDescription study, RunPlan plan, int processors, int targets)
    {
        // The twin and the empty loop are read like a cell.
        var cells = (((study.Variants.Count + 1) * study.Inputs.Count) + 1) * targets;
        var ready = ReadySeconds + (ReadySecondsPerCell * cells);
        var reading = Math.Max(ReadingSeconds, LeastRounds * RoundSecondsPerCell * cells);
        var sittings = Schedule.UsualSittings(plan.AreSpeedsSought);
        var together = (Math.Ceiling(sittings / (double)Comparison.AtOnce(study, processors, targets)) * ready)
            + (sittings * (plan.IsCollectionCompared ? 2 : 1) * reading);
        var apart = plan.IsApart ? sittings * ((ready * study.Variants.Count / Math.Max(1, processors)) + reading) : 0;
        return CheckSeconds + (plan.Repeats * (together + apart)) + DiagnosisSession.EstimatedSeconds(study, plan, targets);
    }
}
