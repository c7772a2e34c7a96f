using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>Declares what one call gets done, from which rates follow; several kinds by <c>with</c>.</summary>
public sealed record Work
{
    /// <summary>Things handled, such as lines or beacons; null when not declared.</summary>
    public double? Items { get; init; }

    /// <summary>Bytes read or written; null when not declared.</summary>
    public double? Bytes { get; init; }

    /// <summary>Arithmetic operations; null when not declared.</summary>
    public double? Operations { get; init; }

    internal WorkPerCall PerCall => new() { Items = Items, Bytes = Bytes, Operations = Operations };

    /// <summary>Things handled by one call.</summary>
    /// <param name="count">How many, above 0.</param>
    public static Work OfItems(double count) => new() { Items = count };

    /// <summary>Bytes read or written by one call.</summary>
    /// <param name="count">How many, above 0.</param>
    public static Work OfBytes(double count) => new() { Bytes = count };

    /// <summary>Arithmetic operations of one call.</summary>
    /// <param name="count">How many, above 0.</param>
    public static Work OfOperations(double count) => new() { Operations = count };
}
