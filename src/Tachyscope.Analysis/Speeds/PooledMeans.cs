using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Speeds;

/// <summary>Means of several groups of placements whose values spread alike about their own group's mean.</summary>
/// <remarks>
/// Copies of one process are taken together first, since what belongs to the process is in all of them; the deviation within groups is
/// pooled over groups, as in an analysis of variance of one factor.
/// </remarks>
internal sealed class PooledMeans
{
    private readonly Dictionary<(int, int), double[]> _groups;
    private readonly double _deviation;
    private readonly int _freedom;

    public PooledMeans(IEnumerable<((int Own, int Other) Group, Placement Placement)> placements)
    {
        _groups = placements.GroupBy(placement => placement.Group, placement => placement.Placement).ToDictionary(
            group => group.Key,
            group => group.GroupBy(placement => placement.Sitting, placement => placement.Log)
                .Select(sitting => sitting.Average()).ToArray());
        _freedom = _groups.Values.Sum(values => values.Length - 1);
        _deviation = Math.Sqrt(_groups.Values.Sum(values => values.Sum(value => Math.Pow(value - values.Average(), 2))) / _freedom);
    }

    /// <summary>Mean of a group, with an interval; without ends where no group has two values.</summary>
    public Interval At((int Own, int Other) group, double level)
    {
        var values = _groups[group];
        var mean = values.Average();
        var reach = _freedom == 0 ? double.PositiveInfinity : SampleMean.Quantile(_freedom, level) * _deviation / Math.Sqrt(values.Length);
        return new Interval(mean, mean - reach, mean + reach, level);
    }
}
