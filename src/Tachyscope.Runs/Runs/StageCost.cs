namespace Tachyscope.Runs;

/// <summary>What marking a stage costs by itself, measured in the worker.</summary>
sealed partial record StageCost
{
    /// <summary>Number of the worker it was measured in, among those of the sitting: each may run on another runtime.</summary>
    public int Worker { get; init; }

    /// <summary>Time that lies inside the stage when its time is taken, in nanoseconds.</summary>
    public required double InsideNanoseconds { get; init; }

    /// <summary>Time that lies outside, in nanoseconds.</summary>
    public required double OutsideNanoseconds { get; init; }

    /// <summary>Time it leaves in readings that do not look at stages, in nanoseconds.</summary>
    public required double UnreadNanoseconds { get; init; }
}
