using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Limits;

/// <summary>How much of an allowance a row uses on one input.</summary>
public sealed record LimitFindings
{
    /// <summary>Index of the row.</summary>
    public required int Row { get; init; }

    /// <summary>What is allowed.</summary>
    public required LimitQuantity Quantity { get; init; }

    /// <summary>How much is allowed per call, in nanoseconds or bytes.</summary>
    public required double Allowed { get; init; }

    /// <summary>How much is used per call, in nanoseconds, collections paid, or bytes.</summary>
    public required Interval Used { get; init; }

    /// <summary>
    /// Share of the allowance used, at the upper end of the interval; infinite where nothing is allowed and something used.
    /// </summary>
    public double ShareUsed => Share(Used.Upper);

    /// <summary>Whether it is kept.</summary>
    public LimitState State
        => !Used.IsBounded ? LimitState.Unknown
            : Share(Used.Upper) <= 1 ? LimitState.Kept
            : Share(Used.Lower) > 1 ? LimitState.Broken
            : LimitState.Unsure;

    private double Share(double used) => used <= 0 ? 0 : used / Allowed;
}
