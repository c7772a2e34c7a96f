
namespace Tachyscope.Analysis.Histories;

/// <summary>A cell over the runs of a history.</summary>
/// <param name="Cell">The cell as it was last.</param>
/// <param name="Logs">Logarithm of its time in each run, in beats of the metronome where all have them; NaN where a run lacks it.</param>
/// <param name="Changes">Where it changed for good; the indices are those of the runs.</param>
/// <param name="DriftRatio">Its last time as a multiple of its first, where it changed steadily; null where it did not.</param>
/// <param name="AllocationChanges">Runs from which on another number of bytes is allocated, with the number.</param>
public sealed record CellTrend(
    CellSummary Cell, IReadOnlyList<double> Logs, IReadOnlyList<ChangePoint> Changes, double? DriftRatio,
    IReadOnlyList<(int Index, double Before, double After)> AllocationChanges)
{
    /// <summary>Runs from which on it did other work, with what differs.</summary>
    public IReadOnlyList<(int Index, WorkDifference Work)> WorkChanges { get; init; } = [];

    internal static CellTrend Of(
        IReadOnlyList<CellSummary?> cells, IReadOnlyList<string?> stamps, double falseAlarmProbability, double marginShare)
    {
        var there = cells.OfType<CellSummary>().Where(cell => !cell.IsBound).ToList();
        // Over the metronome where that is known throughout: then a slow day is no slow code.
        var areBeats = there.TrueForAll(cell => double.IsFinite(cell.Beats));
        double[] logs = [.. cells.Select(cell => cell is null
            || cell.IsBound ? double.NaN : Math.Log(areBeats ? cell.Beats : cell.Nanoseconds))];
        var found = ChangePoints.Find(logs, falseAlarmProbability);
        var drift = ChangePoints.Drift(logs, found);
        return new CellTrend(
            cells.OfType<CellSummary>().Last(), logs,
            drift is null ? [.. found.Where(change => Math.Abs(Math.Log(change.TimeRatio.Estimate)) >= Math.Log(1 + marginShare))] : [],
            drift is { } ratio && Math.Abs(Math.Log(ratio)) >= Math.Log(1 + marginShare) ? ratio : null, [.. BytesChanges(cells)])
        {
            WorkChanges = [.. WorksOf(cells, stamps)],
        };
    }

    private static IEnumerable<(int Index, WorkDifference Work)> WorksOf(IReadOnlyList<CellSummary?> cells, IReadOnlyList<string?> stamps)
    {
        int[] known = [.. Enumerable.Range(0, cells.Count).Where(index => cells[index]?.Work is not null)];
        var found = known.Zip(known.Skip(1), (before, index) => (Before: before, Index: index,
                Work: CellWork.Difference(cells[before]!.Work, cells[index]!.Work)))
            .Where(step => step.Work is not null).ToList();
        // What the same code answers otherwise says nothing of the work.
        var isAnew = found.Exists(step => !step.Work!.IsInput && stamps[step.Index] is { } stamp && stamp == stamps[step.Before]);
        return found.Where(step => step.Work!.IsInput || !isAnew).Select(step => (step.Index, step.Work!));
    }

    // Bytes are exact: one run is enough.
    private static IEnumerable<(int Index, double Before, double After)> BytesChanges(IReadOnlyList<CellSummary?> cells)
    {
        var last = double.NaN;
        for (var index = 0; index < cells.Count; index++)
        {
            if (cells[index] is { Bytes: var bytes } && double.IsFinite(bytes))
            {
                if (Allocation.Differs(last, bytes))
                {
                    yield return (index, last, bytes);
                }

                last = bytes;
            }
        }
    }
}
