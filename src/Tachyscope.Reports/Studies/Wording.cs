using System.Globalization;
using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Turns names and figures into parts of plain sentences. Pure.</summary>
internal static class Wording
{
    private const double FewTimes = 1.5;

    public static string Invariant(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);

    /// <summary>Names in a row, such as "scan, sweep and grid".</summary>
    public static string List(IEnumerable<string> names, string last = "and")
    {
        string[] all = [.. names];
        return all.Length < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])} {last} {all[^1]}";
    }

    /// <summary>The first of many names, and how many more there are.</summary>
    public static string Some(IEnumerable<string> names, int most)
    {
        string[] all = [.. names];
        return all.Length <= most + 1 ? List(all) : Invariant($"{string.Join(", ", all[..most])} and {all.Length - most} more");
    }

    /// <summary>A place such as "sweep, 16 beacons", as it reads in a list.</summary>
    public static string Apart(string place)
    {
        var comma = place.LastIndexOf(", ", StringComparison.Ordinal);
        return comma < 0 ? place : $"{place[..comma]} on {place[(comma + 2)..]}";
    }

    /// <summary>A row by its name in a sentence.</summary>
    public static string Name(VariantDescription row) => row.Part switch
    {
        VariantPart.Use => $"{Quoted(row.Variant)} (once prepared)",
        VariantPart.Prepare => $"preparing {Quoted(row.Variant)}",
        _ => Quoted(row.Name),
    };

    /// <summary>A name that would run into the sentence is set apart.</summary>
    public static string Quoted(string name) => name.Contains(", ", StringComparison.Ordinal) ? $"“{name}”" : name;

    /// <summary>
    /// How much faster than another a row is, from the least to the most its interval allows, such as "5.4 to 5.8 times as fast as scan".
    /// </summary>
    public static string Faster(double lowerRatio, double upperRatio, string other)
    {
        if (!double.IsFinite(upperRatio))
        {
            return $"faster than {other}";
        }

        // A bound has one end.
        if (!(lowerRatio > 0))
        {
            return IsTimes(upperRatio)
                ? $"at least {Quantity.Digits(1 / upperRatio)} times as fast as {other}"
                : $"at least {Quantity.Percent(1 - upperRatio)} less time than {other}";
        }

        var (least, most) = (1 / upperRatio, 1 / lowerRatio);
        return least >= FewTimes
            ? $"{Quantity.Range(Quantity.Digits(least), Quantity.Digits(most))} times as fast as {other}"
            : $"{Quantity.Range(Quantity.Percent(1 - upperRatio), Quantity.Percent(1 - lowerRatio))} less time than {other}";
    }

    /// <summary>Whether <see cref="Faster"/> reads after "is" and not after "takes".</summary>
    public static bool IsTimes(double upperRatio) => !double.IsFinite(upperRatio) || 1 / upperRatio >= FewTimes;

    /// <summary>What a row does, with the verb that fits.</summary>
    public static string IsOrTakes(double lowerRatio, double upperRatio, string other)
        => $"{(IsTimes(upperRatio) ? "is" : "takes")} {Faster(lowerRatio, upperRatio, other)}";

    /// <summary>Something not exactly known with its interval, such as "about 40 (36 to 44)".</summary>
    public static string About(Interval interval)
        => interval.IsBounded
            ? $"about {Quantity.Digits(interval.Estimate)} "
                + $"({Quantity.Range(Quantity.Digits(interval.Lower), Quantity.Digits(interval.Upper))})"
            : $"about {Quantity.Digits(interval.Estimate, 2)}";

    /// <summary>A share more or less, such as "+3.1 %" or "−0.4 %".</summary>
    public static string Signed(double share) => share < 0 ? Quantity.Percent(share) : $"+{Quantity.Percent(share)}";

    public static string Threads(int? threads) => threads is { } count ? Invariant($"{count} thread{(count == 1 ? "" : "s")}") : "";

    /// <summary>A law in a few signs.</summary>
    public static string Law(FittedLaw law) => law.Law switch
    {
        GrowthLaw.LinearWithStep => Invariant($"n, {law.StepFactor:0.0} times as much each above {law.StepAfter:N0}"),
        _ => Law(law.Law),
    };

    public static string Law(GrowthLaw law) => law switch
    {
        GrowthLaw.Constant => "constant",
        GrowthLaw.Logarithmic => "log n",
        GrowthLaw.Linear or GrowthLaw.LinearWithStep => "n",
        GrowthLaw.Linearithmic => "n log n",
        GrowthLaw.Quadratic => "n²",
        GrowthLaw.Cubic => "n³",
        _ => "none of the laws tried",
    };

    public static string Settings(IEnumerable<DialSetting> settings)
        => string.Join(", ", settings.Select(setting => Invariant($"{setting.Dial} {setting.Value:N0}")));
}
