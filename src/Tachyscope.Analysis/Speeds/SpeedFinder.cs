using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Speeds;

/// <summary>Finds rows that settle at several speeds, and what two of them come to at each.</summary>
/// <remarks>Speeds that are no further apart than the margin are one.</remarks>
internal sealed class SpeedFinder(SittingsView view)
{
    private const int LeastRounds = 3;

    private readonly Dictionary<(CellKind Kind, int Row, int Input), Settled> _settled = [];

    /// <summary>The row's speeds, the fastest first; none where it has one.</summary>
    public IReadOnlyList<Speed> Of(int row, int input)
    {
        var settled = Find(CellKind.Variant, row, input);
        if (settled.Count < 2)
        {
            return [];
        }

        var means = new PooledMeans(settled.Placements.Select((placement, index) => ((settled.Speeds[index], 0), placement))
            .Where(placement => placement.Item1.Item1 != Heaps.Astray));
        // Where all copies of a process are alike, a process is one draw.
        var isOfProcess = settled.Placements.Zip(settled.Speeds).GroupBy(found => found.First.Sitting)
            .All(sitting => sitting.Select(found => found.Second).Distinct().Count() == 1);
        return [.. Enumerable.Range(0, settled.Count).Select(heap =>
        {
            var own = settled.Placements.Where((_, index) => settled.Speeds[index] == heap).ToList();
            var (had, all) = isOfProcess
                ? (own.DistinctBy(placement => placement.Sitting).Count(),
                    settled.Placements.DistinctBy(placement => placement.Sitting).Count())
                : (own.Count, settled.Placements.Length);
            return new Speed(own.Count, Shares.Wilson(had, all, view.Level),
                means.At((heap, 0), view.Level).Through(log => Math.Exp(log) * view.ReferenceBeat));
        })];
    }

    /// <summary>What goes along with the row's speeds; null where it has one, or nothing does that was heard of.</summary>
    public SpeedCause? Cause(int row, int input)
    {
        var settled = Find(CellKind.Variant, row, input);
        return settled.Count < 2 ? null : CauseFinder.Find([.. settled.Placements.Zip(settled.Speeds)
            .Where(found => found.Second != Heaps.Astray)
            .Select(found => (Speed: found.Second, Code: view.Code(found.First.Sitting, found.First.Copy, row, input)))
            .Where(found => found.Code is not null).Select(found => (found.Speed, found.Code!))]);
    }

    /// <summary>Placements that were looked at; 0 where they are too few.</summary>
    public int Placements(int row, int input) => Find(CellKind.Variant, row, input).Placements.Length;

    /// <summary>Two rows at each of their speeds; nothing where both have one.</summary>
    /// <param name="row">The row.</param>
    /// <param name="other">The row it is compared with.</param>
    /// <param name="input">The input.</param>
    /// <param name="level">Level at which all of these intervals hold together.</param>
    /// <param name="resolutionShare">The least difference that can be claimed, by the twins.</param>
    public IReadOnlyList<SpeedContrast> Of(int row, int other, int input, double level, double resolutionShare)
    {
        var (own, others) = (Find(CellKind.Variant, row, input), Find(CellKind.Variant, other, input));
        if (row == other || (own.Count < 2 && others.Count < 2) || own.Placements.Length == 0 || others.Placements.Length == 0)
        {
            return [];
        }

        var ratios = Ratios(CellKind.Variant, row, other, input);
        var (ownHeaps, otherHeaps) = (own.ByPlace(), others.ByPlace());
        var met = ratios.Select(ratio => (Place: (ratio.Sitting, ratio.Copy), Ratio: ratio))
            .Where(found => ownHeaps.ContainsKey(found.Place) && otherHeaps.ContainsKey(found.Place))
            .Select(found => (Group: (Own: ownHeaps[found.Place], Other: otherHeaps[found.Place]), found.Ratio)).ToList();
        var groups = met.GroupBy(placement => placement.Group).OrderBy(group => group.Key).ToList();
        if (groups.Count < 2)
        {
            return [];
        }

        var means = new PooledMeans(met);
        var resolution = Math.Min(resolutionShare, TwinWithin(other, input));
        return [.. groups.Select(group =>
        {
            var ratio = means.At(group.Key, 1 - ((1 - level) / groups.Count)).Through(Math.Exp);
            return new SpeedContrast(
                group.Key.Own, group.Key.Other, group.Count(), ratio, Judge.Decide(ratio, resolution, view.MarginShare));
        })];
    }

    // What twins differ by where both have the same one of several speeds.
    private double TwinWithin(int other, int input)
    {
        var reference = view.Record.Study.Reference(other) ?? other;
        var (own, twins) = (Find(CellKind.Variant, reference, input), Find(CellKind.Twin, reference, input));
        if (own.Count < 2 || own.Count != twins.Count)
        {
            return double.PositiveInfinity;
        }

        var (heaps, twinHeaps) = (own.ByPlace(), twins.ByPlace());
        var alike = Ratios(CellKind.Twin, reference, reference, input)
            .Where(ratio => heaps.TryGetValue((ratio.Sitting, ratio.Copy), out var heap)
                && twinHeaps.TryGetValue((ratio.Sitting, ratio.Copy), out var twinHeap) && heap == twinHeap)
            .GroupBy(ratio => ratio.Sitting, ratio => ratio.Log).Select(sitting => sitting.Average());
        return Judge.ResolutionShare(SampleStatistics.MeanInterval([.. alike], view.Level).Through(Math.Exp));
    }

    private Settled Find(CellKind kind, int row, int input)
        => _settled.TryGetValue((kind, row, input), out var found) ? found : _settled[(kind, row, input)] = Look(kind, row, input);

    private Settled Look(CellKind kind, int row, int input)
    {
        // What is too short to be measured, or waits, or was read beside others on the core, has its spread from elsewhere.
        if (view.Failure(row, input) is not null || view.AtMost(row, input) is not null)
        {
            return Settled.None;
        }

        Placement[] placements = [.. Found(kind, row, input, static (sitting, cell) => sitting.LogsByCopy(cell, null))];
        return placements.Length < Heaps.FewestValues ? Settled.None : new Settled(placements, Heaps.Of(
            [.. placements.Select(placement => placement.Log)], Math.Log(1 + view.MarginShare),
            SampleStatistics.Median([.. placements.Select(placement => placement.Error)])));
    }

    private IEnumerable<Placement> Ratios(CellKind kind, int row, int other, int input)
        => Found(kind, row, input, (sitting, cell)
            => sitting.Taken.Find(CellKind.Variant, other, input, view.Way(other), view.Target) is { } reference
                ? sitting.LogsByCopy(cell, reference)
                : []);

    private IEnumerable<Placement> Found(
        CellKind kind, int row, int input, Func<SittingFigures, int, IReadOnlyList<(int Copy, double[] Logs)>> logs)
        => view.Cells(kind, row, input).SelectMany(found => found.Cell is { } cell && IsOfCode(found.Sitting, cell)
            ? logs(found.Sitting, cell).Where(copy => copy.Logs.Length >= LeastRounds)
                .Select(copy => Middle(found.Index, copy.Copy, copy.Logs))
            : []);

    // Beside a shared core a time may be any, and one that waits is not its code's.
    private static bool IsOfCode(SittingFigures sitting, int cell)
        => sitting.State == CoreState.Quiet ? sitting.IsJudgedByCore(cell) : sitting.IsOfCore(cell) && !sitting.Taken.IsGauged;

    private static Placement Middle(int sitting, int copy, double[] logs)
    {
        var error = SampleStatistics.MiddleHalfErrors(logs.Length) * SampleStatistics.NormalDeviation(logs) / Math.Sqrt(logs.Length);
        return new Placement(sitting, copy, SampleStatistics.MiddleHalf(logs), error);
    }

    private sealed record Settled(Placement[] Placements, int[] Speeds)
    {
        public static Settled None { get; } = new([], []);

        public int Count { get; } = Speeds.Length == 0 ? 0 : Speeds.Max() + 1;

        public Dictionary<(int Sitting, int Copy), int> ByPlace()
            => Placements.Zip(Speeds).Where(found => found.Second != Heaps.Astray).ToDictionary(found => (found.First.Sitting,
                found.First.Copy), found => found.Second);
    }
}
