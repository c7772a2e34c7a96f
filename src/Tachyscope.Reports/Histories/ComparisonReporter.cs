using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Histories;

/// <summary>Says what became of a study from one run to another. Pure.</summary>
public static class ComparisonReporter
{
    private const int Named = 3;

    /// <summary>The whole comparison.</summary>
    /// <param name="found">What was found.</param>
    /// <param name="areAllShown">Whether cells that stayed the same or cannot be told are listed too.</param>
    /// <exception cref="ArgumentNullException"><paramref name="found"/> is null.</exception>
    public static HistoryReport Of(RunComparison found, bool areAllShown)
    {
        ArgumentNullException.ThrowIfNull(found);
        return new HistoryReport
        {
            Heads = [$"from  {Told(found.Earlier)}", $"to    {Told(found.Later)}"],
            Parts = [.. found.Changes.GroupBy(change => change.Later.Study)
                .Select(study => Part(study.Key, [.. study], areAllShown, found))],
            Notes = [.. Notes(found)],
        };
    }

    /// <summary>One line on what changed in a study since an earlier run, "the last time" where that has neither number nor name; null
    /// where the two share none of its cells.</summary>
    /// <param name="found">What was found.</param>
    /// <param name="study">The study.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static string? Since(RunComparison found, string study)
    {
        ArgumentNullException.ThrowIfNull(found);
        ArgumentNullException.ThrowIfNull(study);
        CellChange[] changes = [.. found.Changes.Where(change => change.Later.Study == study)];
        if (changes.Length == 0)
        {
            return null;
        }

        var since = found.Earlier is { Id: 0, Label: null } ? "since the last time"
            : $"since {RunWords.Name(found.Earlier)} of {RunWords.When(found.Earlier)}";
        return $"{since}: " + string.Join("; ", ((string?[])[.. Sentences(changes, found).Select(sentence => sentence.Text),
            Cells("new", found.OnlyLater), Cells("no longer measured", found.OnlyEarlier)]).OfType<string>());

        string? Cells(string what, IReadOnlyList<CellSummary> cells) => cells.Where(cell => cell.Study == study).Select(RunWords.Cell)
            .ToList() is { Count: > 0 } named ? $"{what}: {Wording.Some(named, Named)}" : null;
    }

    /// <summary>That two runs share no cell, and what each has.</summary>
    /// <param name="found">What was found.</param>
    /// <param name="later">What the later one is called.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static string NothingShared(RunComparison found, string later)
    {
        ArgumentNullException.ThrowIfNull(found);
        ArgumentNullException.ThrowIfNull(later);
        var isStudyShared = found.OnlyEarlier.Select(cell => cell.Study).Intersect(found.OnlyLater.Select(cell => cell.Study)).Any();
        return $"{RunWords.Name(found.Earlier)} and {later} share no cell: {RunWords.Name(found.Earlier)} has {Names(found.OnlyEarlier)}, "
            + $"{later} has {Names(found.OnlyLater)}; name a run of the same {(isStudyShared ? "cells" : "study")}.";

        string Names(IEnumerable<CellSummary> cells)
            => cells.Select(cell => isStudyShared ? $"\"{cell.Study} · {RunWords.Cell(cell)}\"" : $"\"{cell.Study}\"").Distinct().ToList()
                is { Count: > 0 } named ? Wording.Some(named, Named) : "nothing";
    }

    private static HistoryPart Part(string study, CellChange[] changes, bool areAllShown, RunComparison found)
    {
        CellChange[] shown = [.. changes.Where(change => areAllShown || change.IsAllocationChanged || IsMoved(change))
            .OrderByDescending(change => change.Work is not null).ThenByDescending(change => change.IsAllocationChanged)];
        var table = shown.Length == 0 ? null : new FigureTable
        {
            Title = "",
            Of = "",
            Headings = ["then", "now", "time", "bytes"],
            AreFiguresWords = true,
            Rows = [.. shown.Select(change => new FigureRow(RunWords.Cell(change.Later),
                [Time(change.Earlier), Time(change.Later), Change(change), Bytes(change)]))],
        };
        return new HistoryPart(study, Sentences(changes, found), table, [.. shown.Select(change =>
            $"{study} · {RunWords.Cell(change.Later)}: {Change(change)}, {Time(change.Earlier)} → {Time(change.Later)}, "
                + Bytes(change))]);
    }

    private static List<(Tone Tone, string Text)> Sentences(CellChange[] all, RunComparison found)
    {
        List<(Tone, string)> sentences = [];
        // Whose work is another is not compared.
        CellChange[] changes = [.. all.Where(change => change.Work is null)];
        // What is so of all on an input is said of the input.
        string[] others = [.. all.GroupBy(change => (change.Later.Input, change.Later.Target))
            .SelectMany(input => input.Count() > 1
                && input.Select(change => change.Work is { } work ? RunWords.Work(work) : null).Distinct().ToArray() is [{ } same]
                ? [$"{input.Key.Input}{(input.Key.Target.Length == 0 ? "" : $" · {input.Key.Target}")} ({same})"]
                : input.Where(change => change.Work is not null)
                    .Select(change => $"{RunWords.Cell(change.Later)} ({RunWords.Work(change.Work!)})"))];
        if (others.Length > 0)
        {
            sentences.Add((Tone.Bad, $"not the same work, and not compared: {Wording.Some(others, Named)}"));
        }

        var (more, less) = (Where(change => change.IsAllocationChanged && change.Later.Bytes > change.Earlier.Bytes),
            Where(change => change.IsAllocationChanged && change.Later.Bytes < change.Earlier.Bytes));
        Say(Tone.Bad, more, "allocates more", change => Bytes(change));
        Say(Tone.Good, less, "allocates less", change => Bytes(change));
        Say(Tone.Bad, Where(change => change.Verdict == Verdict.Slower), "got slower", Factor);
        Say(Tone.Good, Where(change => change.Verdict == Verdict.Faster), "got faster", Factor);
        var (same, unclear) = (Where(change => change.Verdict == Verdict.Same), Where(change => change.Verdict == Verdict.Unclear));
        if (same.Length > 0)
        {
            var every = same.Length == all.Length ? "all " : "";
            sentences.Add((Tone.Even, $"{every}{Quantity.Count(same.Length)} the same within {Quantity.Percent(found.MarginShare)}"));
        }

        if (unclear.Length > 0)
        {
            var reach = SampleStatistics.Median([.. unclear.Select(change => change.TimeRatio.HalfWidth / change.TimeRatio.Estimate)]);
            var known = !(reach < 1) ? "" : unclear.Length == 1 ? $", known to ± {Quantity.Percent(reach)}"
                : $", the middle one known to ± {Quantity.Percent(reach)}";
            sentences.Add((Tone.Open, $"{Quantity.Count(unclear.Length)} cannot be told{known}"));
        }

        return sentences;

        CellChange[] Where(Func<CellChange, bool> isMeant) => [.. changes.Where(isMeant)];

        void Say(Tone tone, CellChange[] of, string what, Func<CellChange, string> by)
        {
            if (of.Length > 0)
            {
                var worst = of.OrderByDescending(change => Math.Abs(Math.Log(change.TimeRatio.Estimate)))
                    .Select(change => $"{RunWords.Cell(change.Later)} {by(change)}".TrimEnd());
                sentences.Add((tone, $"{what}: {Wording.Some(worst, Named)}"));
            }
        }
    }

    private static IEnumerable<string> Notes(RunComparison found)
    {
        foreach (var alone in (string?[])[Alone("earlier", found.OnlyEarlier), Alone("later", found.OnlyLater)])
        {
            if (alone is not null)
            {
                yield return alone;
            }
        }

        if (found.IsSameCode)
        {
            yield return found.Changes.Any(change => change.Work is not null)
                ? "both measured the same compiled code: other inputs come from what it reads, or from another seed"
                : "both measured the same compiled code: what differs is the machine, its state, or chance";
        }

        if (found.AnsweringAnew.Count > 0)
        {
            string[] cells = [.. found.AnsweringAnew.Select(cell => $"{cell.Study} · {RunWords.Cell(cell)}")];
            yield return $"answers otherwise with the same code too, so that nothing follows from its answer: {Wording.Some(cells, Named)}";
        }

        if (!found.AreMachinesAlike)
        {
            yield return $"caveat unlike-machines: {found.Earlier.Machine} then, {found.Later.Machine} now";
        }

        if (found.Earlier.Runtime != found.Later.Runtime)
        {
            yield return $"the runtime was {found.Earlier.Runtime} then and is {found.Later.Runtime} now";
        }

        if (found.AreStatesMixed)
        {
            yield return "caveat states-mixed: some cells had the core to themselves in one run and shared it in the other";
        }

        if (found.Changes.Count > 0)
        {
            var learnt = found.Between.Repeats == 0 ? "assumed, since the history holds no two runs of the same code on this machine"
                : $"learnt from {RunWords.Counted(found.Between.Repeats, "pair")} of runs of the same code";
            yield return $"two runs of the same code lie {Quantity.Percent(found.Between.DeviationShare)} apart, {learnt}; factors count "
                + $"that in and hold together at {Quantity.Small(100 * found.Level)} %";
        }
    }

    private static string? Alone(string which, IReadOnlyList<CellSummary> cells)
    {
        var studies = cells.GroupBy(cell => cell.Study)
            .Select(study => $"{study.Key} ({Wording.Some([.. study.Select(RunWords.Cell)], Named)})").ToList();
        return studies.Count == 0 ? null : $"only in the {which} run: {string.Join("; ", studies)}";
    }

    private static string Told(RunSummary run) => string.Join(" · ", ((string[])
        [RunWords.Name(run), RunWords.When(run), RunWords.Code(run), run.Runtime]).Where(part => part.Length > 0));

    private static bool IsMoved(CellChange change) => change.Work is not null || change.Verdict is Verdict.Faster or Verdict.Slower;

    private static string Factor(CellChange change) => change.TimeRatio.IsKnown ? Quantity.Factor(change.TimeRatio) : "";

    private static string Change(CellChange change) => change.Work is { } work ? work.IsInput ? "another input" : "another answer"
        : $"{AnswerReporter.Sign(change.Verdict)} {Factor(change)}".TrimEnd();

    private static string Time(CellSummary cell) => $"{(cell.IsBound ? "≤ " : "")}{Quantity.Time(cell.Nanoseconds)}";

    private static string Bytes(CellChange change)
        => change.IsAllocationChanged ? $"{Quantity.Bytes(change.Earlier.Bytes)} → {Quantity.Bytes(change.Later.Bytes)}"
            : double.IsNaN(change.Later.Bytes) ? "" : Quantity.Bytes(change.Later.Bytes);
}
