using System.Text.Json.Serialization;
using Tachyscope.Measuring;

namespace Tachyscope.Runs;

/// <summary>How the machine was during one turn: what the gauge read before and after each of its readings.</summary>
/// <remarks>
/// Written in files and on the wire as an array of numbers: round, place, processor, then the gauges, and the gauge of calls where it was
/// read.
/// </remarks>
[JsonConverter(typeof(TurnGaugeConverter))]
sealed partial record TurnGauge
{
    /// <summary>
    /// How much above the lowest a gauge of a core that is ours alone may lie: its own spread is 3 %, and of a shared one it begins at 1.3
    /// times.
    /// </summary>
    public const double QuietReach = 1.15;

    // On a core that is ours alone gauges lie within 3 %, with next to nothing below them but those whose chain was disturbed.
    private const double SharpReach = 1.03;
    private const double SharpShare = 0.08;
    private const double ShareBelow = 0.01;
    private const double LowQuantile = 0.02;

    /// <summary>Number of the round within its sitting, from 0.</summary>
    public required int Round { get; init; }

    /// <summary>Place of the turn within its round, from 0.</summary>
    public required int Place { get; init; }

    /// <summary>Processor it ended on; -1 when it was held to none.</summary>
    public required int Processor { get; init; }

    /// <summary>
    /// The gauge before and after each reading of the turn but the metronome's, in their order: time of additions that fill the core in
    /// thousandths of that of a chain that does not.
    /// </summary>
    public required IReadOnlyList<int> Gauges { get; init; }

    /// <summary>
    /// Time of a call of a method that is known only when it is called, after the last reading of the turn, in thousandths of that of a
    /// link of the chain, which is three cycles; 0 where it was not read.
    /// </summary>
    public int CallGauge { get; init; }

    /// <summary>Cycles of such a call; NaN where it was not read.</summary>
    public double CallCycles => CyclesOf(CallGauge);

    /// <summary>Cycles of a call, by what the gauge of calls read; NaN where it was not read.</summary>
    /// <param name="callGauge">Time of a call in thousandths of a link; 0 where it was not read.</param>
    public static double CyclesOf(int callGauge) => callGauge == 0 ? double.NaN : callGauge * Metronome.CyclesPerLink * 1e-3;

    /// <summary>What the gauge read in the quietest of many moments.</summary>
    /// <param name="gauges">The gauges, in any order.</param>
    /// <returns>
    /// Where the lowest lie that are many and close together, as on a core that is ours alone; where there are none such, a low quantile
    /// that is not sharp; 0 without any.
    /// </returns>
    /// <exception cref="ArgumentNullException"><paramref name="gauges"/> is null.</exception>
    public static (int Low, bool IsSharp) LowOf(IEnumerable<int> gauges)
    {
        ArgumentNullException.ThrowIfNull(gauges);
        int[] sorted = [.. gauges.Order()];
        var few = (int)(LowQuantile * sorted.Length);
        var (below, within) = (0, 0);
        for (var first = 0; first < sorted.Length; first++)
        {
            while (sorted[below] * SharpReach < sorted[first])
            {
                below++;
            }

            while (within < sorted.Length && sorted[within] <= SharpReach * sorted[first])
            {
                within++;
            }

            // Shared, they spread, and their flank rises slowly.
            if (within - first >= SharpShare * sorted.Length && first - below <= ShareBelow * sorted.Length)
            {
                return (sorted[Math.Min(first + few, within - 1)], true);
            }
        }

        return sorted.Length == 0 ? (0, false) : (sorted[few], false);
    }
}
