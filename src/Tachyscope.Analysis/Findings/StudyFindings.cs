using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Dials;
using Tachyscope.Analysis.Doubts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Machines;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found of one study.</summary>
public sealed record StudyFindings
{
    private const double ShareOfDifference = 0.1;

    /// <summary>The study.</summary>
    public required StudyDescription Study { get; init; }

    /// <summary>Its inputs, in the order they were defined.</summary>
    public required IReadOnlyList<InputFindings> Inputs { get; init; }

    /// <summary>Reasons to distrust the figures.</summary>
    public required IReadOnlyList<Caveat> Caveats { get; init; }

    /// <summary>Sittings held in workers that all variants share.</summary>
    public required int Sittings { get; init; }

    /// <summary>Copies of the study's code that the rounds of most sittings went through; 1 where that is not known.</summary>
    public int Copies { get; init; } = 1;

    /// <summary>Why there were fewer than asked for, in a few words; null when there were not.</summary>
    public string? CopiesProblem { get; init; }

    /// <summary>Sittings held in which every variant had a worker of its own.</summary>
    public int SittingsApart { get; init; }

    /// <summary>Sittings held with the collector kept out, beside others with it free.</summary>
    public int SittingsHeld { get; init; }

    /// <summary>What rows are compared with.</summary>
    public Against Against { get; init; }

    /// <summary>Time its sittings took, from the start of the first to the end of the last, in seconds.</summary>
    public double Seconds { get; init; }

    /// <summary>How its variants grow along each axis of sizes; empty without two sizes.</summary>
    public IReadOnlyList<GrowthFindings> Growth { get; init; } = [];

    /// <summary>Which settings of its dials are best.</summary>
    public IReadOnlyList<DialFindings> Dials { get; init; } = [];

    /// <summary>Which row to take, for each number of threads that has something to choose from.</summary>
    public IReadOnlyList<Decision> Decisions { get; init; } = [];

    /// <summary>Two variants of which one is faster in some places and slower in others; null when there are none.</summary>
    public Flip? Flip { get; init; }

    /// <summary>Rounds taken over all sittings.</summary>
    public required int Rounds { get; init; }

    /// <summary>The smallest difference that matters, as a share.</summary>
    public double MarginShare { get; init; }

    /// <summary>Level at which the intervals of one table hold together, such as 0.95.</summary>
    public double IntervalLevel { get; init; } = 0.95;

    /// <summary>How steadily the machine ran while it was measured, by the metronome.</summary>
    public NoiseFindings Metronome { get; init; } = NoiseFindings.Of([]);

    /// <summary>Time of one link of the metronome that times are stated at, in nanoseconds; NaN where none was heard.</summary>
    public double NanosecondsPerLink { get; init; } = double.NaN;

    /// <summary>Whose the core was while it was measured, by the gauge.</summary>
    public CoreFindings Core { get; init; } = new();

    /// <summary>What the signals say of all readings together.</summary>
    public SignalCount Signals { get; init; } = new();

    /// <summary>Whether the upper end of some figure's interval lies beyond a declared limit.</summary>
    public bool IsAnyLimitMissed => Inputs.Any(input => input.Limits.Any(limit => limit.State is LimitState.Broken or LimitState.Unsure));

    /// <summary>The caveats that are about one cell.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="input">Its input.</param>
    public IEnumerable<Caveat> CaveatsOf(CellFindings cell, InputFindings input)
    {
        var subject = CaveatGround.Subject(cell, input);
        return Caveats.Where(caveat => !caveat.IsOfRun && caveat.Subject == subject);
    }

    /// <summary>Whether every contrast is as tight as a precision asks.</summary>
    /// <param name="precisionShare">Largest half-width, as a share of the baseline's time.</param>
    public bool IsPrecise(double precisionShare)
        => Measured.All(ratio => Width.Of(ratio) <= Math.Log(1 + precisionShare));

    /// <summary>
    /// Sittings after which every contrast will probably be that tight: widths shrink with the square root of their number.
    /// </summary>
    /// <param name="precisionShare">Largest half-width, as a share of the baseline's time.</param>
    /// <returns>Null when nothing can be told yet.</returns>
    public int? SittingsNeeded(double precisionShare)
        => Width.SittingsNeeded(Sittings, Measured.Select(Width.Of).DefaultIfEmpty(0).Max() / Math.Log(1 + precisionShare));

    /// <summary>
    /// Cells whose contrast is known well enough: within the precision asked for; without one, within half the margin or a
    /// tenth of the difference itself. A matter of the interval's width, never of what it leaves out.
    /// </summary>
    /// <param name="precisionShare">The precision asked for; null for none.</param>
    public IReadOnlyList<(int Variant, int Input)> Decided(double? precisionShare)
        => [.. from input in Enumerable.Range(0, Inputs.Count)
               from cell in Inputs[input].Cells
               where cell.Contrast is { } contrast
                   && (contrast.TimeRatio.Bound != Bound.None && Sittings > 1
                       || Width.Of(contrast.TimeRatio) <= Enough(contrast, precisionShare))
               select (cell.Row, input)];

    private double Enough(Contrast contrast, double? precisionShare)
        => precisionShare is { } precision
            ? Math.Log(1 + precision)
            : Math.Max(MarginShare / 2, ShareOfDifference * Math.Abs(Math.Log(contrast.TimeRatio.Estimate)));

    // The ratios of all contrasts. No time makes a bound narrower: the loop may leave what it may leave.
    internal IEnumerable<Interval> Measured
        => Inputs.SelectMany(input => input.Cells)
            .Select(cell => cell.Contrast).OfType<Contrast>()
            .Select(contrast => contrast.TimeRatio).Where(ratio => ratio.Bound == Bound.None);
}
