using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Exports.Charts;

/// <summary>Makes every figure that a study has. Pure.</summary>
internal static class ChartReporter
{
    /// <summary>The kinds of figures, by the names they are asked for.</summary>
    public static IReadOnlyList<string> Names { get; } =
        ["contrasts", "growth", "dials", "uses", "memory", "stages", "roof", "readings", "warmup", "drift"];

    /// <summary>The figures of a study on its first target, in the order of their names; a kind that has nothing to show is not
    /// there.</summary>
    /// <param name="run">The run.</param>
    /// <param name="record">The study.</param>
    /// <param name="found">What was found of it.</param>
    public static IEnumerable<Chart> Of(Run run, StudyRecord record, StudyOnTargets found)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(record);
        ArgumentNullException.ThrowIfNull(found);
        var findings = found.Targets[0];
        return Found(run, findings).Concat(ReadingCharts.Of(record, findings))
            .Where(chart => chart.Series.Any(series => series.Points.Count > 0));
    }

    private static IEnumerable<Chart> Found(Run run, StudyFindings findings)
        => FindingCharts.Contrasts(findings)
            .Concat(FindingCharts.Growth(findings))
            .Concat(FindingCharts.Dials(findings))
            .Concat(FindingCharts.Uses(findings))
            .Concat(FindingCharts.Memory(findings))
            .Concat(FindingCharts.Stages(findings))
            .Concat(FindingCharts.Roof(run, findings));
}
