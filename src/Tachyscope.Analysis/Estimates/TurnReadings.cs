using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Readings of one turn as they were taken.</summary>
internal sealed class TurnReadings
{
    private const int UsualReadings = 5;

    /// <summary>Time per call of each, in nanoseconds.</summary>
    public List<double> Times { get; } = new(UsualReadings);

    /// <summary>What the collector paused the process in each, per call, in nanoseconds.</summary>
    public List<double> Pauses { get; } = new(UsualReadings);

    /// <summary>Adds one.</summary>
    /// <param name="reading">The reading.</param>
    /// <param name="nanoseconds">What it took.</param>
    public void Add(in Reading reading, long nanoseconds)
    {
        Times.Add((double)nanoseconds / reading.Calls);
        Pauses.Add((double)reading.PauseNanoseconds / reading.Calls);
    }

    /// <summary>Those before and after which the core was in one state.</summary>
    /// <param name="gauge">The turn's gauges.</param>
    /// <param name="state">Quiet or shared.</param>
    /// <param name="most">Largest gauge of a quiet core.</param>
    public TurnReadings Beside(TurnGauge gauge, CoreState state, int most)
    {
        var own = new TurnReadings();
        for (var reading = 0; reading < Times.Count && (2 * reading) + 1 < gauge.Gauges.Count; reading++)
        {
            var (before, after) = (gauge.Gauges[2 * reading] <= most, gauge.Gauges[(2 * reading) + 1] <= most);
            if (before == after && before == (state == CoreState.Quiet))
            {
                own.Times.Add(Times[reading]);
                own.Pauses.Add(Pauses[reading]);
            }
        }

        return own;
    }
}
