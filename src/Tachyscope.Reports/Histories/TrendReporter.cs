using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Histories;

/// <summary>Says how a study went over the runs of a history. Pure.</summary>
public static class TrendReporter
{
    private const string Steps = "▁▂▃▄▅▆▇█";
    private const int MostSteps = 40;

    // With fewer, no order of the times is rare enough.
    private const int Enough = 10;

    private const int MostWorkChanges = 3;

    // Less than that from bottom to top is drawn in the middle: noise is no mountain.
    private const double LeastHeight = 0.1;

    /// <summary>The whole of it.</summary>
    /// <param name="trend">The trend.</param>
    /// <param name="areAllShown">Whether cells that did not change are listed too.</param>
    /// <param name="aside">Runs left out since they were measured on other machines.</param>
    /// <exception cref="ArgumentNullException"><paramref name="trend"/> is null.</exception>
    public static HistoryReport Of(StudyTrend trend, bool areAllShown, long aside)
    {
        ArgumentNullException.ThrowIfNull(trend);
        var (first, last) = (trend.Runs[0], trend.Runs[^1]);
        CellTrend[] moved = [.. trend.Cells.Where(IsMoved)];
        CellTrend[] shown = areAllShown || moved.Length == 0 ? [.. trend.Cells] : moved;
        List<(Tone, string)> sentences = [.. Changes(trend), .. trend.Cells.SelectMany(cell => Sentences(trend, cell))];
        var still = trend.Cells.Count - moved.Length;
        if (still > 0)
        {
            var all = moved.Length == 0 ? "all " : "";
            sentences.Add((Tone.Even, $"{all}{RunWords.Counted(still, "cell")} without a change that shows"));
        }

        return new HistoryReport
        {
            Heads = [$"{RunWords.Counted(trend.Runs.Count, "run")} from {RunWords.When(first)} to {RunWords.When(last)}"],
            Parts = [new HistoryPart(trend.Study, sentences, new FigureTable
            {
                Title = "",
                Of = "",
                Headings = ["first", "now", "so far"],
                AreFiguresWords = true,
                Rows = [.. shown.Select(cell => new FigureRow(RunWords.Cell(cell.Cell),
                    [First(trend, cell), Time(cell.Cell), Line(cell)]))],
            }, [.. shown.Select(cell => $"{trend.Study} · {RunWords.Cell(cell.Cell)}: first {First(trend, cell)}, now "
                + $"{Time(cell.Cell)} {Line(cell)}")])],
            Notes = [.. Notes(trend, aside)],
        };
    }

    // What a variant did on several inputs at one place is one change.
    private static IEnumerable<(Tone, string)> Changes(StudyTrend trend)
    {
        var all = trend.Cells.SelectMany(cell => cell.Changes.Select(change => (cell.Cell, Change: change))).ToList();
        foreach (var of in all.GroupBy(pair => (pair.Cell.Variant, pair.Cell.Target, IsSlower: pair.Change.TimeRatio.Estimate > 1)))
        {
            var left = of.OrderBy(pair => pair.Change.LastIndex - pair.Change.FirstIndex).ToList();
            while (left.Count > 0)
            {
                // The one whose place is known best stands for the others.
                var best = left[0].Change;
                var same = left.Where(pair => pair.Change.FirstIndex <= best.Index && best.Index <= pair.Change.LastIndex
                    || best.FirstIndex <= pair.Change.Index && pair.Change.Index <= best.LastIndex).ToList();
                left.RemoveAll(same.Contains);
                var inputs = trend.Cells.Count(cell => cell.Cell.Variant == of.Key.Variant && cell.Cell.Target == of.Key.Target);
                var where = same.Count == 1 ? $"{RunWords.Cell(same[0].Cell)} got"
                    : $"{of.Key.Variant}{(of.Key.Target.Length == 0 ? "" : $" · {of.Key.Target}")} got";
                var on = same.Count == 1 ? "" : same.Count == inputs ? " on every input"
                    : $" on {Quantity.Count(same.Count)} of {RunWords.Counted(inputs, "input")}";
                yield return (of.Key.IsSlower ? Tone.Bad : Tone.Good,
                    $"{where} {(of.Key.IsSlower ? "slower" : "faster")}{on}, "
                        + $"{Factors([.. same.Select(pair => pair.Change.TimeRatio)])}, with {Place(trend, best)}");
            }
        }
    }

    private static string Factors(Interval[] ratios)
        => ratios.Length == 1 ? Quantity.Factor(ratios[0])
            : Quantity.Range(Quantity.Factor(ratios.MinBy(Reach).Estimate), Quantity.Factor(ratios.MaxBy(Reach).Estimate));

    private static double Reach(Interval ratio) => Math.Abs(Math.Log(ratio.Estimate));

    private static IEnumerable<(Tone, string)> Sentences(StudyTrend trend, CellTrend cell)
    {
        var name = RunWords.Cell(cell.Cell);
        if (cell.DriftRatio is { } drift)
        {
            yield return (drift > 1 ? Tone.Bad : Tone.Good,
                $"{name} gets {(drift > 1 ? "slower" : "faster")} little by little, {Quantity.Factor(drift)} from the first run to the "
                    + "last");
        }

        // What is another from run to run is no change of the code.
        if (cell.WorkChanges.Count > MostWorkChanges)
        {
            yield return (Tone.Bad, $"{name} does other work in {Quantity.Count(cell.WorkChanges.Count)} of the runs than in the one "
                + "before, so that its times are not of one thing");
        }

        foreach (var (index, work) in cell.WorkChanges.Take(cell.WorkChanges.Count > MostWorkChanges ? 0 : MostWorkChanges))
        {
            yield return (Tone.Bad, $"{name}: {RunWords.Work(work)}, from {Run(trend, index)} on");
        }

        foreach (var (index, before, after) in cell.AllocationChanges.Where(change => double.IsFinite(change.Before)))
        {
            yield return (after > before ? Tone.Bad : Tone.Good,
                $"{name} allocates {(after > before ? "more" : "less")}, {Quantity.Bytes(before)} → {Quantity.Bytes(after)}, from "
                    + $"{Run(trend, index)} on");
        }
    }

    private static string Place(StudyTrend trend, ChangePoint change)
    {
        var exact = change.FirstIndex == change.LastIndex;
        var between = exact ? ""
            : $"; it may have been any from run {trend.Runs[change.FirstIndex].Id} to run {trend.Runs[change.LastIndex].Id}";
        return $"{Run(trend, change.Index)}{between}";
    }

    private static string Run(StudyTrend trend, int index)
    {
        var run = trend.Runs[index];
        var code = run.Code.Commit is { } commit ? $", commit {RunWords.Commit(commit)}" : "";
        return $"{RunWords.Name(run)} of {RunWords.When(run)}{code}";
    }

    private static IEnumerable<string> Notes(StudyTrend trend, long aside)
    {
        foreach (var (index, what) in trend.Marks)
        {
            yield return $"from {RunWords.Name(trend.Runs[index])} on another {what}";
        }

        if (trend.Runs.Count < Enough)
        {
            yield return $"a change takes about {Quantity.Count(Enough)} runs to show; tachyscope compare tells two runs apart";
        }

        if (aside > 0)
        {
            yield return $"{RunWords.Counted(aside, "run")} on other machines left out";
        }

        yield return "a change is one that ranks of the times before and after it tell apart, at 95 % for all cells together";
    }

    private static bool IsMoved(CellTrend cell)
        => cell.Changes.Count > 0 || cell.DriftRatio is not null || cell.WorkChanges.Count > 0
            || cell.AllocationChanges.Any(change => double.IsFinite(change.Before));

    private static string First(StudyTrend trend, CellTrend cell)
        => trend.Runs.SelectMany(run => run.Cells).FirstOrDefault(first => first.Name == cell.Cell.Name) is { } first ? Time(first) : "";

    private static string Time(CellSummary cell) => $"{(cell.IsBound ? "≤ " : "")}{Quantity.Time(cell.Nanoseconds)}";

    // The middle of each stretch of runs, from the least to the most.
    private static string Line(CellTrend cell)
    {
        var stretch = Math.Max(1, (int)Math.Ceiling(cell.Logs.Count / (double)MostSteps));
        double[] middles = [.. cell.Logs.Chunk(stretch).Select(logs => SampleStatistics.Median(logs))];
        double[] known = [.. middles.Where(double.IsFinite)];
        if (known.Length < 2)
        {
            return "";
        }

        var (least, most) = (known.Min(), known.Max());
        var middle = (least + most) / 2;
        var height = Math.Max(most - least, LeastHeight);
        return string.Concat(middles.Select(log => !double.IsFinite(log) ? ' '
            : Steps[Math.Clamp((int)((((log - middle) / height) + 0.5) * Steps.Length), 0, Steps.Length - 1)]));
    }
}
