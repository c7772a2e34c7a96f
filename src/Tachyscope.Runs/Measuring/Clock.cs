using System.Diagnostics;

namespace Tachyscope.Measuring;

/// <summary>The clock that times readings.</summary>
static partial class Clock
{
    /// <summary>Smallest step of the clock, in nanoseconds.</summary>
    /// <param name="looks">How often to look; 200 by default.</param>
    public static double StepNanoseconds(int looks = 200)
    {
        var smallest = long.MaxValue;
        for (var i = 0; i < looks; i++)
        {
            var first = Stopwatch.GetTimestamp();
            long next;
            do
            {
                next = Stopwatch.GetTimestamp();
            }
            while (next == first);
            smallest = Math.Min(smallest, next - first);
        }

        return smallest * 1e9 / Stopwatch.Frequency;
    }
}
