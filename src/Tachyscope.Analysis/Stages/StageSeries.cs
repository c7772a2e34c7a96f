using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Stages;

/// <summary>What the readings with marks say of one stage.</summary>
/// <param name="Stage">Its name.</param>
/// <param name="Shares">Its share of the time of a call, as a series over sittings.</param>
/// <param name="CountPerCall">Times it is entered per call.</param>
internal sealed record StageSeries(string Stage, double[] Shares, double CountPerCall)
{
    /// <summary>Whether it lies inside another stage.</summary>
    public bool IsInner => Stage.Contains('›', StringComparison.Ordinal);

    /// <summary>The stages of a row, in the order they are entered.</summary>
    /// <param name="sittings">What marks cost in each sitting, and the row's readings with marks.</param>
    public static IReadOnlyList<StageSeries> Of(IReadOnlyList<(StageCost? Cost, List<StageReading> Readings)> sittings)
    {
        var all = sittings.SelectMany(sitting => sitting.Readings).ToList();
        return [.. all.SelectMany(reading => reading.Stages).Select(stage => stage.Stage).Distinct().Select(name => new StageSeries(
            name,
            [.. sittings.Select(sitting => sitting.Cost is { } cost
                ? SampleStatistics.Median([.. sitting.Readings.Select(reading => Share(reading, name, cost))])
                : double.NaN)],
            SampleStatistics.Mean([.. all.Select(reading => Count(reading, name))])))];
    }

    private static double Count(StageReading reading, string name)
        => (reading.Stages.FirstOrDefault(stage => stage.Stage == name)?.Count ?? 0) / (double)reading.Calls;

    // What marks cost lies inside their own stage in part, and wholly inside the stages around it.
    private static double Share(StageReading reading, string name, StageCost cost)
    {
        var mark = cost.InsideNanoseconds + cost.OutsideNanoseconds;
        var whole = reading.ElapsedNanoseconds - (mark * reading.Stages.Sum(stage => stage.Count));
        return reading.Stages.FirstOrDefault(stage => stage.Stage == name) is { } found
            ? (found.ElapsedNanoseconds - (cost.InsideNanoseconds * found.Count) - (mark * found.CountInside)) / whole
            : 0;
    }
}
