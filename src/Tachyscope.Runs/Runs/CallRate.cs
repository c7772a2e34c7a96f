namespace Tachyscope.Runs;

/// <summary>How often an operation is called where it is used.</summary>
sealed partial record CallRate
{
    /// <summary>Calls per second of one caller.</summary>
    public required double CallsPerSecond { get; init; }

    /// <summary>Processes, machines or users that call as often; 1 by default.</summary>
    public int Callers { get; init; } = 1;
}
