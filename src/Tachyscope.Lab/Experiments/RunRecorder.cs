using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Gathers what is measured and hands out the run as it stands.</summary>
internal sealed class RunRecorder(RunPlan plan, MetTargets targets, ExperimentSurroundings around)
{
    private readonly DateTimeOffset _started = around.Clock.GetUtcNow();
    private readonly long _start = around.Clock.GetTimestamp();
    private readonly List<StudyRecord> _done = [];

    /// <summary>Time since the run began, in seconds, by a clock that nobody sets.</summary>
    public double Elapsed => around.Clock.GetElapsedTime(_start).TotalSeconds;

    /// <summary>Puts a study's present state in place of its last, and saves.</summary>
    public Run Update(StudyRecord study)
    {
        var run = With(study);
        around.Save?.Invoke(run);
        return run;
    }

    /// <summary>Puts a study's present state in place of its last.</summary>
    public Run With(StudyRecord study)
    {
        if (_done.Count > 0 && _done[^1].Study.Name == study.Study.Name)
        {
            _done.RemoveAt(_done.Count - 1);
        }

        _done.Add(study);
        return Snapshot(RunState.Running);
    }

    public void Finish(StudyRecord study)
    {
        var run = Update(study);
        around.StudyDone?.Invoke(run, study);
    }

    public Run End(RunState state)
    {
        var run = Snapshot(state);
        around.Save?.Invoke(run);
        return run;
    }

    private Run Snapshot(RunState state) => new()
    {
        Tool = around.Tool,
        Started = _started,
        State = state,
        Plan = plan,
        Machine = around.Machine,
        Limits = around.Limits,
        QuietCallCycles = around.QuietCallCycles,
        Environment = targets.Hellos[0].Environment,
        Code = targets.Targets[0].Code,
        Targets = targets.Descriptions,
        ClockStepSeconds = (around.Clock.GetUtcNow() - _started).TotalSeconds - Elapsed,
        Studies = [.. _done],
    };
}
