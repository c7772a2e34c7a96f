using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>How far a run is and how long it will still take, by the sittings seen so far.</summary>
internal sealed class Forecast(IReadOnlyList<StudyDescription> studies, RunPlan plan, TimeProvider clock, long started)
{
    private readonly double _cellsInAll = Math.Max(1, studies.Sum(Cells));
    private double _cellsDone;

    /// <summary>Time the whole run may still take; null when no time was given.</summary>
    public double? SecondsAllowed => plan.WithinSeconds - Elapsed;

    private double Elapsed => clock.GetElapsedTime(started).TotalSeconds;

    /// <summary>The part of the time left that a study may take, by its number of cells.</summary>
    public double? SecondsFor(StudyDescription study)
        => SecondsAllowed is { } left ? Math.Max(0, left) * Cells(study) / Math.Max(1, _cellsInAll - _cellsDone) : null;

    public void Done(StudyDescription study) => _cellsDone += Cells(study);

    /// <summary>Share of the run that is done when a study is done to a share of its own.</summary>
    public double ShareDone(StudyDescription study, double shareOfStudy)
        => Math.Clamp((_cellsDone + (Cells(study) * shareOfStudy)) / _cellsInAll, 0, 1);

    public TimeSpan? TimeLeft(StudyDescription study, double shareOfStudy)
    {
        if (SecondsAllowed is { } allowed)
        {
            return TimeSpan.FromSeconds(Math.Max(0, allowed));
        }

        var share = ShareDone(study, shareOfStudy);
        return share < 0.02 ? null : TimeSpan.FromSeconds(Elapsed * (1 - share) / share);
    }

    // The twin is a cell as well; and a sitting's start and warming cost about as much as four cells' readings.
    private static double Cells(StudyDescription study) => 4 + ((study.Variants.Count + 1) * study.Inputs.Count);
}
