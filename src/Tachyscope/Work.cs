using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>Declares what one call gets done, from which rates follow.</summary>
public static class Work
{
    /// <summary>Things handled by one call.</summary>
    /// <param name="count">How many, above 0.</param>
    public static WorkPerCall OfItems(double count) => new() { Items = count };

    /// <summary>Bytes read or written by one call.</summary>
    /// <param name="count">How many, above 0.</param>
    public static WorkPerCall OfBytes(double count) => new() { Bytes = count };

    /// <summary>Arithmetic operations of one call.</summary>
    /// <param name="count">How many, above 0.</param>
    public static WorkPerCall OfOperations(double count) => new() { Operations = count };
}
