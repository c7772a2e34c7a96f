using System.Globalization;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Reports.Formats;

/// <summary>Writes quantities in units that fit their size, with as many digits as they are sure of.</summary>
/// <remarks>Numbers are written in the invariant culture, as in files, so that a figure can be copied from one to the other.</remarks>
public static class Quantity
{
    /// <summary>What stands where there is no figure.</summary>
    public const string Absent = "–";

    private const int MostDecimals = 4;
    private const double MostTimesAsFar = 100;
    private const double MostUneven = 1.3;
    private const double Tiny = 1e-9;
    private const double MostBytesExactly = 1_000_000;

    private static readonly (double Size, string Name)[] TimeUnits = [(1e9, "s"), (1e6, "ms"), (1e3, "µs"), (1, "ns")];
    private static readonly (double Size, string Name)[] SpanUnits = [(86_400, "days"), (3_600, "h"), (60, "min"), (1, "s"), (1e-3, "ms"),
        (1e-6, "µs")];
    private static readonly (double Size, string Name)[] RateUnits = [(1e12, "T"), (1e9, "G"), (1e6, "M"), (1e3, "k"), (1, "")];
    private static readonly (double Size, string Name)[] ByteUnits = [(1L << 30, "GiB"), (1L << 20, "MiB"), (1L << 10, "KiB"), (1, "B")];

    /// <summary>A time with the reach of its interval, such as "18.42 ns ± 0.12".</summary>
    /// <param name="nanoseconds">The time, in nanoseconds.</param>
    /// <param name="reachNanoseconds">Half-width of its interval, in nanoseconds; not finite when it has none.</param>
    public static string Time(double nanoseconds, double reachNanoseconds)
    {
        if (!double.IsFinite(nanoseconds))
        {
            return Absent;
        }

        var (size, name) = Unit(TimeUnits, nanoseconds);
        var decimals = Decimals(nanoseconds / size, reachNanoseconds / size);
        var value = Fixed(nanoseconds / size, decimals);
        return double.IsFinite(reachNanoseconds) ? $"{value} {name} ± {Fixed(reachNanoseconds / size, decimals)}" : $"{value} {name} ± ?";
    }

    /// <summary>A time to three digits, such as "412 ns".</summary>
    /// <param name="nanoseconds">The time, in nanoseconds.</param>
    public static string Time(double nanoseconds)
    {
        if (!double.IsFinite(nanoseconds))
        {
            return Absent;
        }

        var (size, name) = Unit(TimeUnits, nanoseconds);
        return nanoseconds == 0 ? "0" : $"{Digits(nanoseconds / size, 3)} {name}";
    }

    /// <summary>
    /// A counted number of bytes, such as "10,256 B" or "1.50 MiB": exact below a million; hundredths show where calls differ.
    /// </summary>
    /// <param name="bytes">The number of bytes.</param>
    public static string Bytes(double bytes)
        => Math.Abs(bytes) < MostBytesExactly && Math.Abs(bytes - Math.Round(bytes)) < 0.005
            ? $"{Fixed(Math.Round(bytes), 0)} B"
            : Size(bytes);

    /// <summary>A size in three digits, such as "32.0 KiB".</summary>
    /// <param name="bytes">The number of bytes.</param>
    public static string Size(double bytes)
    {
        if (!double.IsFinite(bytes))
        {
            return Absent;
        }

        var (size, name) = Unit(ByteUnits, bytes);
        return $"{Digits(bytes / size, 3)} {name}";
    }

    /// <summary>
    /// A time as it is known: with the reach of its interval, or "≤ 2.50 ns" where it is only known to be at most so much.
    /// </summary>
    /// <param name="nanoseconds">The time, in nanoseconds.</param>
    public static string Time(Interval nanoseconds)
        => nanoseconds.Bound == Bound.None ? Spread(nanoseconds, Time, Time) : Bounded(nanoseconds, Time);

    /// <summary>
    /// A factor on the baseline's time: "÷ 1.52" when faster, "× 2.10" when slower, with the reach of its interval; with both its ends
    /// where these lie unevenly, such as "÷ 1.52 (1.20 to 2.30)"; "÷ ≥ 120" where that is all that is known.
    /// </summary>
    /// <param name="ratio">Time as a multiple of the baseline's.</param>
    public static string Factor(Interval ratio)
    {
        if (ratio.Bound != Bound.None)
        {
            return FactorBound(ratio);
        }

        var (sign, shown) = ratio.Estimate < 1 ? ("÷", ratio.Dividing(1)) : ("×", ratio);
        // Of an end a hundred times as far nobody can make anything.
        if (shown.Upper > MostTimesAsFar * shown.Estimate || (shown.Lower > 0 && shown.Lower * MostTimesAsFar < shown.Estimate))
        {
            return $"{sign} {Digits(shown.Estimate, 3)} ± ?";
        }

        return !double.IsFinite(ratio.Estimate) ? Absent : $"{sign} {Spread(shown, Reach, value => Digits(value))}";
    }

    /// <summary>A figure as it is written here, and the reach of its interval, such as "± 0.11" or "(1.20 to 2.30)".</summary>
    /// <param name="text">Both together.</param>
    public static (string Figure, string Reach) Parts(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var reach = text.IndexOfAny(['±', '(']);
        return reach <= 0 ? (text, "") : (text[..(reach - 1)], text[reach..]);
    }

    /// <summary>A factor to three digits: "÷ 1.52" when below 1, "× 2.10" otherwise, "÷ ≥ 120" where that is all that is known.</summary>
    /// <param name="ratio">The factor.</param>
    public static string FactorOnly(Interval ratio) => ratio.Bound != Bound.None ? FactorBound(ratio) : Factor(ratio.Estimate);

    /// <summary>A factor to three digits: "÷ 1.52" when below 1, "× 2.10" otherwise.</summary>
    /// <param name="ratio">The factor.</param>
    public static string Factor(double ratio)
        => !double.IsFinite(ratio) ? Absent : ratio < 1 ? $"÷ {Digits(1 / ratio, 3)}" : $"× {Digits(ratio, 3)}";

    /// <summary>A figure as it is known, such as "1.52 G", or with "≥" or "≤" before it.</summary>
    /// <param name="figure">The figure.</param>
    /// <param name="write">Writes a number of its kind.</param>
    public static string Known(Interval figure, Func<double, string> write)
    {
        ArgumentNullException.ThrowIfNull(write);
        return figure.Bound == Bound.None ? write(figure.Estimate) : Bounded(figure, write);
    }

    /// <summary>A time that may be lost or gained, to three digits, such as "−412 ns".</summary>
    /// <param name="nanoseconds">The time, in nanoseconds.</param>
    public static string Saved(double nanoseconds) => nanoseconds < 0 ? $"−{Time(-nanoseconds)}" : Time(nanoseconds);

    /// <summary>A time that may be lost or gained with the reach of its interval.</summary>
    /// <param name="nanoseconds">The time, in nanoseconds.</param>
    public static string Saved(Interval nanoseconds)
        => nanoseconds.Bound != Bound.None ? Bounded(nanoseconds, Saved)
            : nanoseconds.Estimate < 0 ? $"−{Time(-nanoseconds.Estimate, nanoseconds.HalfWidth)}"
            : Time(nanoseconds.Estimate, nanoseconds.HalfWidth);

    /// <summary>A span of time of any size to three digits, such as "3.10 h"; lost time has a minus.</summary>
    /// <param name="seconds">The span, in seconds.</param>
    public static string Span(double seconds)
    {
        if (!double.IsFinite(seconds))
        {
            return Absent;
        }

        var (size, name) = Unit(SpanUnits, seconds);
        return seconds == 0 ? "0" : seconds < 0 ? $"−{Span(-seconds)}" : $"{Digits(seconds / size, 3)} {name}";
    }

    /// <summary>The unit in which spans of about a size are written, such as "min", and its seconds.</summary>
    /// <param name="seconds">The size, in seconds.</param>
    public static (double Seconds, string Name) SpanUnit(double seconds) => Unit(SpanUnits, seconds);

    /// <summary>A number with the reach of its interval, such as "0.98 ± 0.02".</summary>
    /// <param name="number">The number.</param>
    /// <param name="reach">Half-width of its interval; not finite when it has none.</param>
    public static string Number(double number, double reach)
    {
        if (!double.IsFinite(number))
        {
            return Absent;
        }

        var decimals = Math.Clamp(Decimals(1, reach), 2, 3);
        return $"{(number < 0 ? "−" : "")}{Fixed(Math.Abs(number), decimals)} ± {(double.IsFinite(reach) ? Fixed(reach, decimals) : "?")}";
    }

    /// <summary>A number to a few digits, whole where it is large, such as "5.62" or "1,240".</summary>
    /// <param name="number">The number.</param>
    /// <param name="digits">Digits it is told to; three by default.</param>
    public static string Digits(double number, int digits = 3)
    {
        if (!double.IsFinite(number))
        {
            return Absent;
        }

        var unit = Math.Pow(10, Exponent(number) - digits + 1);
        return number < 0
            ? $"−{Digits(-number, digits)}"
            : Fixed(Math.Round(number / unit) * unit, Math.Clamp(digits - 1 - Exponent(number), 0, MostDecimals));
    }

    /// <summary>A number rounded up to a whole one, to three digits where it is large.</summary>
    /// <param name="number">The number.</param>
    public static string Whole(double number)
        => !double.IsFinite(number) ? Absent : number < 1_000 ? Fixed(Math.Ceiling(Math.Max(1, number)), 0) : $"{Rate(number).TrimEnd()}";

    /// <summary>A number per second to three digits, such as "1.52 G".</summary>
    /// <param name="perSecond">How many per second.</param>
    public static string Rate(double perSecond)
    {
        if (!double.IsFinite(perSecond))
        {
            return Absent;
        }

        var (size, name) = Unit(RateUnits, perSecond);
        return $"{Digits(perSecond / size, 3)} {name}".TrimEnd() + (name.Length == 0 ? " " : "");
    }

    /// <summary>A small number to a few digits, such as "0.05" or "12".</summary>
    /// <param name="number">The number.</param>
    /// <param name="digits">Digits it is told to; three by default.</param>
    public static string Small(double number, int digits = 3)
    {
        if (!double.IsFinite(number))
        {
            return Absent;
        }

        return digits >= 3 && (number == Math.Round(number) || Math.Abs(number) >= 100)
            ? number.ToString("N0", CultureInfo.InvariantCulture)
            : digits < 3 ? Digits(number, digits)
            : number.ToString("G3", CultureInfo.InvariantCulture);
    }

    /// <summary>A share as a percentage with one decimal, such as "34.3 %"; none beyond a hundred per cent.</summary>
    /// <param name="share">The share.</param>
    public static string Percent(double share)
    {
        if (!double.IsFinite(share))
        {
            return Absent;
        }

        var percent = share * 100;
        var text = Fixed(Math.Abs(percent), Math.Abs(percent) >= 99.95 ? 0 : 1);
        return percent < 0 && text.Any(digit => digit is >= '1' and <= '9') ? $"−{text} %" : $"{text} %";
    }

    /// <summary>A whole number with its thousands set apart.</summary>
    /// <param name="count">The number.</param>
    public static string Count(long count) => count.ToString("N0", CultureInfo.InvariantCulture);

    /// <summary>A span of time for somebody who waits, such as "9 s" or "2 min 5 s".</summary>
    /// <param name="span">The span.</param>
    public static string Wait(TimeSpan span)
    {
        var seconds = (int)Math.Ceiling(span.TotalSeconds);
        return seconds < 100
            ? string.Create(CultureInfo.InvariantCulture, $"{seconds} s")
            : string.Create(CultureInfo.InvariantCulture, $"{seconds / 60} min {seconds % 60} s");
    }

    // Both ends are written where one of them lies much further off than the other.
    private static string Spread(Interval figure, Func<double, double, string> withReach, Func<double, string> write)
    {
        var (below, above) = (figure.Estimate - figure.Lower, figure.Upper - figure.Estimate);
        var isEven = !figure.IsKnown || !double.IsFinite(below) || !double.IsFinite(above)
            || Math.Max(below, above) <= MostUneven * Math.Min(below, above) + (Tiny * figure.Estimate);
        return isEven ? withReach(figure.Estimate, figure.HalfWidth)
            : $"{write(figure.Estimate)} ({Range(write(figure.Lower), write(figure.Upper))})";
    }

    /// <summary>Two ends that are written already, such as "1.20 to 2.30"; one where they read alike.</summary>
    internal static string Range(string least, string most) => least == most ? least : $"{least} to {most}";

    private static string Reach(double value, double reach)
    {
        var decimals = Decimals(value, reach);
        return double.IsFinite(reach) ? $"{Fixed(value, decimals)} ± {Fixed(reach, decimals)}" : $"{Digits(value, 3)} ± ?";
    }

    // The end that the interval warrants; the estimate alone where one sitting warrants none.
    private static string Bounded(Interval figure, Func<double, string> write)
        => figure.Bound switch
        {
            Bound.AtMost => $"≤ {write(double.IsFinite(figure.Upper) ? figure.Upper : figure.Estimate)}",
            Bound.AtLeast => $"≥ {write(double.IsFinite(figure.Lower) && figure.Lower != 0 ? figure.Lower : figure.Estimate)}",
            _ => Absent,
        };

    private static string FactorBound(Interval ratio)
    {
        var known = ratio.Bound == Bound.AtMost ? ratio.Upper : ratio.Lower;
        var end = double.IsFinite(known) && known > 0 ? known : ratio.Estimate;
        return (ratio.Bound, IsBelow: end < 1) switch
        {
            (Bound.AtMost, true) => $"÷ ≥ {Digits(1 / end)}",
            (Bound.AtMost, false) => $"× ≤ {Digits(end)}",
            (Bound.AtLeast, true) => $"÷ ≤ {Digits(1 / end)}",
            (Bound.AtLeast, false) => $"× ≥ {Digits(end)}",
            _ => Absent,
        };
    }

    // Two digits of the reach are what is known; a value never shows fewer than three digits or more than four decimals.
    private static int Decimals(double value, double reach)
    {
        var forReach = double.IsFinite(reach) && reach > 0 ? 1 - Exponent(reach) : MostDecimals;
        var forValue = value == 0 ? 2 : 2 - Exponent(value);
        return Math.Clamp(Math.Min(forReach, Math.Max(0, forValue + 2)), Math.Min(0, forValue), MostDecimals);
    }

    private static int Exponent(double value) => value == 0 ? 0 : (int)Math.Floor(Math.Log10(Math.Abs(value)));

    // Fewer than none round before the point.
    private static string Fixed(double value, int decimals)
    {
        var unit = Math.Pow(10, -decimals);
        var shown = decimals < 0 ? Math.Round(value / unit) * unit : value;
        return shown.ToString(string.Create(CultureInfo.InvariantCulture, $"N{Math.Max(0, decimals)}"), CultureInfo.InvariantCulture);
    }

    private static (double Size, string Name) Unit((double Size, string Name)[] units, double value)
        => Array.Find(units, unit => Math.Abs(value) >= unit.Size) is { Name: not null } found ? found : units[^1];
}
