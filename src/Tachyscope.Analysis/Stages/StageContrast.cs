using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Stages;

/// <summary>Tells which stage makes the difference between two rows that mark the same ones.</summary>
internal static class StageContrast
{
    public static IReadOnlyList<StageDifference> Of(SittingsView view, int row, int other, int input, double level)
    {
        var (own, others) = (Outer(view, row, input), Outer(view, other, input));
        string[] shared = [.. own.Keys.Where(others.ContainsKey)];
        if (shared.Length == 0)
        {
            return [];
        }

        var (times, otherTimes) = (view.Times(row, input), view.Times(other, input));
        var whole = Pairing.Difference(otherTimes, times);
        // A stage that only one of the two has is the other's time outside its stages.
        var differences = shared.Select(
            name => (Name: (string?)name, Saved: Pairing.Difference(Spent(others[name], otherTimes), Spent(own[name], times))))
            .Append((Name: (string?)null, Saved: Pairing.Difference(Outside(others, shared, otherTimes), Outside(own, shared, times))));
        return [.. differences
            .Select(stage => new StageDifference(
                stage.Name, SampleStatistics.MeanInterval(stage.Saved, level), Fieller.Ratio(stage.Saved, whole, level)))
            .OrderByDescending(stage => stage.ShareOfDifference.Estimate)];
    }

    // Stages inside others are part of their time.
    private static Dictionary<string, double[]> Outer(SittingsView view, int row, int input)
        => view.Stages(row, input).Where(stage => !stage.IsInner).ToDictionary(stage => stage.Stage, stage => stage.Shares);

    private static double[] Spent(double[] shares, double[] times) => [.. shares.Select((share, sitting) => share * times[sitting])];

    private static double[] Outside(Dictionary<string, double[]> stages, string[] names, double[] times)
        => [.. times.Select((time, sitting) => time * (1 - names.Sum(name => stages[name][sitting])))];
}
