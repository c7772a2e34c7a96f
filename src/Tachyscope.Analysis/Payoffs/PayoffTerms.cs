namespace Tachyscope.Analysis.Payoffs;

/// <summary>How much an operation is used, and what time costs.</summary>
public sealed record PayoffTerms
{
    /// <summary>Calls per second of one caller, above 0.</summary>
    public required double CallsPerSecond { get; init; }

    /// <summary>Processes, machines or users that call as often; 1 by default.</summary>
    public int Callers { get; init; } = 1;

    /// <summary>Price of an hour of one processor, in any currency; null when none is given.</summary>
    public double? PricePerProcessorHour { get; init; }
}
