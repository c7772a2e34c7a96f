using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>How often an operation is called where it is used.</summary>
sealed partial record CallRate
{
    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="callers"><see cref="Callers"/>.</param>
    [JsonConstructor]
    public CallRate(int callers = 1) => Callers = callers;

    /// <summary>Calls per second of one caller.</summary>
    public required double CallsPerSecond { get; init; }

    /// <summary>Processes, machines or users that call as often; 1 by default.</summary>
    public int Callers { get; init; }
}
