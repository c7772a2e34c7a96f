namespace Tachyscope.Analysis.Histories;

/// <summary>A study over the runs of a history.</summary>
/// <param name="Study">Its name.</param>
/// <param name="Runs">The runs, the oldest first.</param>
/// <param name="Cells">Its cells, in the order of the last run that has them.</param>
/// <param name="Marks">Runs from which on something else differs than the code.</param>
public sealed record StudyTrend(string Study, IReadOnlyList<RunSummary> Runs, IReadOnlyList<CellTrend> Cells,
    IReadOnlyList<(int Index, string What)> Marks)
{
    private const double FamilyFalseAlarmProbability = 0.05;

    /// <summary>Reads the runs of a study.</summary>
    /// <param name="study">Its name.</param>
    /// <param name="runs">Runs with their cells, the oldest first.</param>
    /// <param name="marginShare">The smallest change that matters, as a share.</param>
    /// <param name="areCommits">Whether runs of the same commit that follow each other are one; false by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static StudyTrend Of(string study, IReadOnlyList<RunSummary> runs, double marginShare, bool areCommits = false)
    {
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(runs);
        RunSummary[] points = [.. (areCommits ? ByCommit(runs) : runs)
            .Select(run => run with { Cells = [.. run.Cells.Where(cell => cell.Study == study)] }).Where(run => run.Cells.Count > 0)];
        var byName = points.Select(run => run.Cells.ToDictionary(cell => cell.Name)).ToList();
        string?[] stamps = [.. points.Select(run => run.Code.Stamp)];
        var names = points.Reverse().SelectMany(run => run.Cells).Select(cell => cell.Name).Distinct().ToList();
        var probability = Math.Min(ChangePoints.UsualFalseAlarmProbability, FamilyFalseAlarmProbability / Math.Max(1, names.Count));
        return new StudyTrend(
            study, points,
            [.. names.AsParallel().AsOrdered()
                .Select(name => CellTrend.Of(
                    [.. byName.Select(cells => cells.GetValueOrDefault(name))], stamps, probability, marginShare))],
            [.. FindMarks(points)]);
    }

    private static IEnumerable<(int, string)> FindMarks(RunSummary[] runs)
    {
        for (var index = 1; index < runs.Length; index++)
        {
            var (before, after) = (runs[index - 1], runs[index]);
            (string What, string Before, string After)[] pairs =
                [("machine", before.Machine, after.Machine), ("runtime", before.Runtime, after.Runtime), ("tool", before.Tool, after.Tool)];
            foreach (var (what, was, now) in pairs.Where(pair => pair.Before != pair.After))
            {
                yield return (index, $"{what}: {was}, then {now}");
            }
        }
    }

    // Runs of one commit with no other between them, by the middle of each cell's times.
    private static IEnumerable<RunSummary> ByCommit(IReadOnlyList<RunSummary> runs)
    {
        for (var begin = 0; begin < runs.Count;)
        {
            var end = begin + 1;
            while (end < runs.Count && runs[begin].Code.Commit is { } commit && !runs[begin].Code.IsDirty && !runs[end].Code.IsDirty
                && runs[end].Code.Commit == commit)
            {
                end++;
            }

            var same = runs.Skip(begin).Take(end - begin).ToList();
            yield return same[^1] with
            {
                Cells = [.. same.SelectMany(run => run.Cells).GroupBy(cell => cell.Name)
                    .Select(cells => cells.OrderBy(cell => cell.Beats).ThenBy(cell => cell.Nanoseconds)
                        .ElementAt((cells.Count() - 1) / 2))],
            };
            begin = end;
        }
    }
}
