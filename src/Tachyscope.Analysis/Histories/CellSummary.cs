using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Histories;

/// <summary>What is kept of a cell so that runs can be compared without their readings.</summary>
public sealed record CellSummary
{
    private const string WorkTree = "now";

    /// <summary>Name of its study.</summary>
    public required string Study { get; init; }

    /// <summary>Name of its row.</summary>
    public required string Variant { get; init; }

    /// <summary>Label of its input.</summary>
    public required string Input { get; init; }

    /// <summary>Name of its target; empty where the run had but one without a name.</summary>
    public string Target { get; init; } = "";

    /// <summary>Time per call, in nanoseconds; NaN where there is none.</summary>
    public required double Nanoseconds { get; init; }

    /// <summary>Whether it takes at most that, and no more is known.</summary>
    public bool IsBound { get; init; }

    /// <summary>The time in beats of the run's metronome; NaN for what mostly waits, which no faster processor shortens.</summary>
    public double Beats { get; init; } = double.NaN;

    /// <summary>Standard error of the time's logarithm over sittings; NaN for fewer than two.</summary>
    public double LogError { get; init; } = double.NaN;

    /// <summary>Sittings it was measured in.</summary>
    public int Sittings { get; init; }

    /// <summary>Bytes allocated per call; NaN where that is not known.</summary>
    public double Bytes { get; init; } = double.NaN;

    /// <summary>Whether its readings are those beside a core that nobody else used.</summary>
    public bool IsQuiet { get; init; }

    /// <summary>What it was given and answered; null where that was not kept.</summary>
    public CellWork? Work { get; init; }

    /// <summary>
    /// By what it is found in other runs: study, row, input and target. The target now is the work tree as it is, as a run without targets
    /// measures it, so that both are one cell.
    /// </summary>
    public (string Study, string Variant, string Input, string Target) Name => (Study, Variant, Input, Target == WorkTree ? "" : Target);

    internal static CellSummary Of(
        StudyFindings study, InputFindings input, CellFindings cell, string target, CellWork? work)
    {
        var time = cell.NanosecondsPerCall;
        var beat = study.NanosecondsPerLink;
        return new CellSummary
        {
            Study = study.Study.Name,
            Variant = cell.Variant.Name,
            Input = input.Input.Label,
            Target = target,
            Nanoseconds = time.Estimate,
            IsBound = time.Bound == Bound.AtMost,
            Beats = cell.Signals.IsMostlyWaiting || time.Bound != Bound.None ? double.NaN : time.Estimate / beat,
            LogError = study.Sittings > 1 && time is { IsMeasured: true, IsBounded: true }
                ? time.HalfWidth / SampleMean.Quantile(SampleMean.Freedom(study.Sittings), time.Level) / time.Estimate
                : double.NaN,
            Sittings = study.Sittings,
            Bytes = cell.AllocatedBytesPerCall,
            IsQuiet = study.Core.IsQuiet && !cell.IsOfSharedCore,
            Work = work,
        };
    }
}
