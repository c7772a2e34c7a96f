using Tachyscope.Analysis.Limits;

namespace Tachyscope.Reports.Formats;

/// <summary>Writes what a limit is about. Pure.</summary>
public static class LimitText
{
    /// <summary>An amount of it, in its own unit.</summary>
    /// <param name="quantity">What is limited.</param>
    /// <param name="amount">The amount, in nanoseconds or bytes.</param>
    public static string Amount(LimitQuantity quantity, double amount)
        => quantity == LimitQuantity.Bytes ? Quantity.Bytes(amount) : Quantity.Time(amount);

    /// <summary>What is limited, in a word.</summary>
    /// <param name="quantity">What is limited.</param>
    public static string Word(LimitQuantity quantity) => quantity switch
    {
        LimitQuantity.Time => "time",
        LimitQuantity.ProcessorTime => "processor time",
        _ => "bytes",
    };
}
