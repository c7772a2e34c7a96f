namespace Tachyscope.Runs;

/// <summary>Which part of a planned run a run is.</summary>
sealed partial record RunShare
{
    /// <summary>Name of the plan, the same for all of its shares.</summary>
    public required string Plan { get; init; }

    /// <summary>Number of the share, from 1.</summary>
    public required int Number { get; init; }

    /// <summary>Shares that the plan has, on each kind of machine.</summary>
    public required int Count { get; init; }

    /// <summary>Kind of machine it is for; null where there is but one.</summary>
    public string? Machine { get; init; }
}
