using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Stages;

/// <summary>Tells which stage makes the difference between two rows that mark the same ones.</summary>
internal static class StageContrast
{
    public static IReadOnlyList<StageDifference> Of(StudyView view, int row, int other, int input, double level)
    {
        var (own, others) = (Outer(view, row, input), Outer(view, other, input));
        string[] shared = [.. own.Keys.Where(others.ContainsKey)];
        if (shared.Length == 0)
        {
            return [];
        }

        var (times, otherTimes) = (view.Times(row, input), view.Times(other, input));
        var whole = SampleStatistics.Mean(StudyView.Difference(otherTimes, times));
        // A stage that only one of the two has is the other's time outside its stages.
        var differences = shared.Select(name => (Name: (string?)name, Saved: StudyView.Difference(Spent(others[name], otherTimes), Spent(own[name], times))))
            .Append((Name: (string?)null, Saved: StudyView.Difference(Outside(others, shared, otherTimes), Outside(own, shared, times))));
        return [.. differences
            .Select(stage => Difference(stage.Name, SampleStatistics.MeanInterval(stage.Saved, level), whole))
            .OrderByDescending(stage => stage.ShareOfDifference)];
    }

    private static StageDifference Difference(string? stage, Interval saved, double whole) => new(stage, saved, saved.Estimate / whole);

    // Stages inside others are part of their time.
    private static Dictionary<string, double[]> Outer(StudyView view, int row, int input)
        => view.Stages(row, input).Where(stage => !stage.IsInner).ToDictionary(stage => stage.Stage, stage => stage.Shares);

    private static double[] Spent(double[] shares, double[] times) => [.. shares.Select((share, sitting) => share * times[sitting])];

    private static double[] Outside(Dictionary<string, double[]> stages, string[] names, double[] times)
        => [.. times.Select((time, sitting) => time * (1 - names.Sum(name => stages[name][sitting])))];
}
