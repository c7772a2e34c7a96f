using Tachyscope.Runs;

namespace Tachyscope.Analysis.Machines;

/// <summary>How much of the time a core was ours alone, and for how long at a stretch.</summary>
public sealed record CoreNoise
{
    // A gauge now and then is thrown off by an interruption, which ends no stretch.
    private const int LeastSharedInARow = 2;

    /// <summary>The processor; -1 when the system did not let it be chosen.</summary>
    public required int Processor { get; init; }

    /// <summary>Share of the time in which the core was ours alone.</summary>
    public required double QuietShare { get; init; }

    /// <summary>
    /// Length of the stretch that half of the quiet time lies in, or in longer ones, in milliseconds; 0 without a quiet moment.
    /// </summary>
    public required double StretchMilliseconds { get; init; }

    /// <summary>
    /// The gauge in the quietest moments of all processors, in thousandths, and whether it is as sharp as on a quiet core; 0 when none
    /// was read.
    /// </summary>
    /// <param name="cores">What was read.</param>
    public static (int Low, bool IsSharp) LowOf(IReadOnlyList<CoreHeard> cores)
    {
        ArgumentNullException.ThrowIfNull(cores);
        return cores.Where(core => core.Gauges.Count > 0).Select(core => TurnGauge.LowOf(core.Gauges)).OrderBy(core => core.Low)
            .FirstOrDefault();
    }

    /// <summary>Reads what was heard of a core.</summary>
    /// <param name="core">What was heard.</param>
    /// <param name="low">The gauge of a quiet core.</param>
    public static CoreNoise Of(CoreHeard core, int low)
    {
        ArgumentNullException.ThrowIfNull(core);
        var most = (int)(TurnGauge.QuietReach * low);
        var stretches = new List<int>();
        var (quiet, shared, now) = (0, 0, 0);
        foreach (var gauge in core.Gauges)
        {
            if (gauge <= most)
            {
                (quiet, now, shared) = (quiet + 1, now + 1, 0);
            }
            else if (++shared >= LeastSharedInARow && now > 0)
            {
                stretches.Add(now);
                now = 0;
            }
        }

        stretches.Add(now);
        return new CoreNoise
        {
            Processor = core.Processor,
            QuietShare = core.Gauges.Count == 0 ? double.NaN : (double)quiet / core.Gauges.Count,
            StretchMilliseconds = Middle(stretches, quiet) * core.Milliseconds / Math.Max(1, core.Gauges.Count),
        };
    }

    private static int Middle(List<int> stretches, int quiet)
    {
        var seen = 0;
        foreach (var stretch in stretches.OrderDescending())
        {
            seen += stretch;
            if (seen * 2 >= quiet)
            {
                return stretch;
            }
        }

        return 0;
    }
}
