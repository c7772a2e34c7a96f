namespace Tachyscope.Analysis.Statistics;

/// <summary>What every statistic here does at its edges, in one place.</summary>
/// <remarks>
/// <list type="table">
/// <item><term>NaN or infinity among the values</term><description>left out, as if never taken</description></item>
/// <item><term>no value</term><description>NaN; an interval without ends</description></item>
/// <item><term>one value</term><description>that value; an interval without ends, for one value says nothing of its
/// spread</description></item>
/// <item><term>all values equal</term><description>that value; an interval of width 0</description></item>
/// <item><term>level outside (0, 1)</term><description>an <see cref="ArgumentOutOfRangeException"/></description></item>
/// </list>
/// </remarks>
internal static class EdgeRules
{
    /// <summary>The values that count, in their order.</summary>
    public static double[] Usable(ReadOnlySpan<double> values)
    {
        var count = 0;
        foreach (var value in values)
        {
            count += double.IsFinite(value) ? 1 : 0;
        }

        var usable = new double[count];
        var next = 0;
        foreach (var value in values)
        {
            if (double.IsFinite(value))
            {
                usable[next++] = value;
            }
        }

        return usable;
    }

    public static void CheckLevel(double level)
    {
        if (!(level > 0 && level < 1))
        {
            throw new ArgumentOutOfRangeException(nameof(level), level, "A level lies between 0 and 1, such as 0.95.");
        }
    }
}
