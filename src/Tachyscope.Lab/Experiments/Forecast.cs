using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>How far a run is and how long it will still take, by what was seen so far.</summary>
internal sealed class Forecast(IReadOnlyList<StudyDescription> studies, RunPlan plan, int processors, TimeProvider clock, long started)
{
    // What a study usually takes, in seconds; only the proportions matter once some of a run is done.
    private const double CheckSeconds = 0.3;
    private const double ReadySeconds = 1.3;
    private const double ReadySecondsPerCell = 0.05;
    private const double LeastReadingSeconds = 0.25;
    private const double RoundSecondsPerCell = 0.7e-3;
    private const int LeastRounds = 10;

    private readonly double _secondsInAll = Math.Max(1e-3, studies.Sum(study => Seconds(study, plan, processors)));
    private double _secondsDone;

    /// <summary>Time the whole run may still take; null when no time was given.</summary>
    public double? SecondsAllowed => plan.WithinSeconds - Elapsed;

    private double Elapsed => clock.GetElapsedTime(started).TotalSeconds;

    /// <summary>The part of the time left that a study may take, in proportion to what it usually takes.</summary>
    public double? SecondsFor(StudyDescription study)
        => SecondsAllowed is { } left ? Math.Max(0, left) * Seconds(study, plan, processors) / Math.Max(1e-3, _secondsInAll - _secondsDone) : null;

    public void Done(StudyDescription study) => _secondsDone += Seconds(study, plan, processors);

    /// <summary>Share of the run that is done when a study is done to a share of its own.</summary>
    public double ShareDone(StudyDescription study, double shareOfStudy)
        => plan.WithinSeconds is { } within
            ? Math.Clamp(Elapsed / within, 0, 1)
            : Math.Clamp((_secondsDone + (Seconds(study, plan, processors) * shareOfStudy)) / _secondsInAll, 0, 1);

    public TimeSpan? TimeLeft(StudyDescription study, double shareOfStudy)
    {
        if (SecondsAllowed is { } allowed)
        {
            return TimeSpan.FromSeconds(Math.Max(0, allowed));
        }

        var share = ShareDone(study, shareOfStudy);
        return share < 0.02 ? null : TimeSpan.FromSeconds(Elapsed * (1 - share) / share);
    }

    /// <summary>What a study usually takes with the default schedule, in seconds.</summary>
    internal static double Seconds(StudyDescription study, RunPlan plan, int processors)
    {
        // The twin and the empty loop are read like a cell.
        var cells = (study.Variants.Count + 1) * study.Inputs.Count + 1;
        var atOnce = study.Variants.Any(row => row.Loop.Threads is not null) ? 1 : Math.Clamp(processors, 1, 2);
        var ready = ReadySeconds + (ReadySecondsPerCell * cells);
        var reading = Math.Max(LeastReadingSeconds, LeastRounds * RoundSecondsPerCell * cells);
        var together = (Schedule.DefaultSittings / (double)atOnce * ready) + (Schedule.DefaultSittings * reading);
        var apart = plan.IsApart ? Schedule.DefaultSittings * ((ready * study.Variants.Count / atOnce) + reading) : 0;
        return CheckSeconds + (plan.Repeats * (together + apart)) + DiagnosisSession.EstimatedSeconds(study, plan);
    }
}
