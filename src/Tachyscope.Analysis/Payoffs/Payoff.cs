using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Payoffs;

/// <summary>What a difference is worth; every figure carries the interval of the difference.</summary>
public sealed record Payoff
{
    private const double SecondsPerDay = 86_400;
    private const double DaysPerYear = 365;
    private const double NanosecondsPerSecond = 1e9;
    private const double SecondsPerHour = 3_600;

    /// <summary>Wall time saved a day, over all callers, in seconds; null when it is not known how often it is called.</summary>
    public Interval? SecondsPerDaySaved { get; init; }

    /// <summary>Processor time saved a day, over all callers, in seconds; null when it is not known how often it is called.</summary>
    public Interval? ProcessorSecondsPerDaySaved { get; init; }

    /// <summary>Wall time saved in a year of 365 days, in seconds.</summary>
    public Interval? SecondsPerYearSaved => SecondsPerDaySaved?.Through(seconds => seconds * DaysPerYear);

    /// <summary>Processor time saved in a year of 365 days, in seconds.</summary>
    public Interval? ProcessorSecondsPerYearSaved => ProcessorSecondsPerDaySaved?.Through(seconds => seconds * DaysPerYear);

    /// <summary>Money saved in a year, in the currency of the price; null without one.</summary>
    public Interval? MoneyPerYearSaved { get; init; }

    /// <summary>
    /// Calls a day that save one second a day; its upper end is infinite where nothing may be saved, and it is unknown where time is lost.
    /// </summary>
    public required Interval CallsPerDayForASecond { get; init; }

    /// <summary>What a contrast is worth.</summary>
    /// <param name="contrast">The contrast.</param>
    /// <param name="terms">How much the operation is used; null when that is not known.</param>
    public static Payoff Of(Contrast contrast, PayoffTerms? terms)
    {
        ArgumentNullException.ThrowIfNull(contrast);
        var saved = contrast.SavedNanosecondsPerCall;
        Interval? PerDay(Interval nanoseconds) => terms is null ? null
            : nanoseconds.Through(value => value / NanosecondsPerSecond * terms.CallsPerSecond * terms.Callers * SecondsPerDay);
        var processor = PerDay(contrast.SavedProcessorNanosecondsPerCall);
        return new Payoff
        {
            SecondsPerDaySaved = PerDay(saved),
            ProcessorSecondsPerDaySaved = processor,
            MoneyPerYearSaved = terms?.PricePerProcessorHour is { } price
                ? processor?.Through(seconds => seconds * DaysPerYear / SecondsPerHour * price)
                : null,
            CallsPerDayForASecond = saved.Estimate > 0 ? saved.Dividing(NanosecondsPerSecond) : Interval.Unknown(saved.Level),
        };
    }
}
