using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Puts findings into words and figures. Pure.</summary>
public static class StudyReporter
{
    private const string None = "";
    private const int SubjectsNamed = 3;

    /// <summary>What is to be shown of a study.</summary>
    /// <param name="run">The run it belongs to.</param>
    /// <param name="findings">What was found.</param>
    /// <param name="note">Why it ended early; null when it did not.</param>
    /// <param name="areAllFiguresShown">Whether figures are shown that tell nothing out of the ordinary.</param>
    public static StudyReport Report(Run run, StudyFindings findings, string? note, bool areAllFiguresShown = false)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(findings);
        return new StudyReport
        {
            Study = findings.Study.Name,
            Tables = [.. findings.Inputs.Select(input => Table(input, areAllFiguresShown))],
            Environment = Environment(run, findings),
            Remarks = [.. Remarks(run, findings)],
            Checks = areAllFiguresShown ? [.. FigureReporter.Checks(findings)] : [],
            Caveats = [.. Merged(findings.Caveats)],
            Note = note,
        };
    }

    private static StudyTable Table(InputFindings input, bool areAllFiguresShown)
    {
        StudyRow[] rows = [.. input.Cells.Select(Row)];
        return new StudyTable
        {
            Input = input.Input.Label,
            Rows = rows,
            Scale = MarkScale.For([.. rows.Where(row => row.Mark is not null).Select(row => row.Mark!.Value)]),
            Failures = [.. input.Cells.Where(cell => cell.Failure is not null).SelectMany(FailureLines)],
            Figures = [.. FigureReporter.Of(input, areAllFiguresShown)],
        };
    }

    private static StudyRow Row(CellFindings cell)
    {
        var time = cell.NanosecondsPerCall;
        var (word, tone) = Verdict(cell);
        return new StudyRow
        {
            Variant = cell.Variant.Name,
            Time = cell.Failure is not null ? "not timed" : Quantity.Time(time.Estimate, time.HalfWidth),
            Mark = time.IsKnown && time.IsBounded ? new Mark(time.Lower, time.Estimate, time.Upper) : null,
            Factor = cell.Contrast is { } contrast
                ? Quantity.Factor(contrast.TimeRatio.Estimate, contrast.TimeRatio.Lower, contrast.TimeRatio.Upper)
                : None,
            Saved = cell.Contrast is { } saved ? Quantity.Percent(saved.ShareSaved) : None,
            Bytes = cell.Failure is null ? Quantity.Bytes(cell.AllocatedBytesPerCall) : None,
            Verdict = word,
            Tone = tone,
        };
    }

    private static (string Word, Tone Tone) Verdict(CellFindings cell) => cell switch
    {
        { Failure.Kind: CellFailureKind.Disagrees } => ("disagrees", Tone.Failed),
        { Failure.Kind: CellFailureKind.Threw } => ("threw", Tone.Failed),
        { Failure.Kind: CellFailureKind.Died } => ("died", Tone.Failed),
        { Failure.Kind: CellFailureKind.Hung } => ("hung", Tone.Failed),
        { Failure.Kind: CellFailureKind.LeftStageOpen } => ("stage open", Tone.Failed),
        { Variant.Part: VariantPart.Prepare, Contrast: null } => ("once", Tone.Aside),
        { Variant.IsBaseline: true } => ("baseline", Tone.Reference),
        { Contrast.Verdict: Analysis.Contrasts.Verdict.Faster } => ("faster", Tone.Good),
        { Contrast.Verdict: Analysis.Contrasts.Verdict.Slower } => ("slower", Tone.Bad),
        { Contrast.Verdict: Analysis.Contrasts.Verdict.Same } => ("same", Tone.Even),
        { Contrast: null } => ("not compared", Tone.Open),
        _ => ("unclear", Tone.Open),
    };

    private static IEnumerable<string> FailureLines(CellFindings cell)
    {
        var failure = cell.Failure!;
        yield return $"{cell.Variant.Name}: {failure.Reason}";
        foreach (var line in failure.LastLines)
        {
            yield return $"    {line}";
        }
    }

    private static string Environment(Run run, StudyFindings findings)
    {
        var environment = run.Environment;
        var pinned = run.Studies.Where(study => study.Study.Name == findings.Study.Name).SelectMany(study => study.Sittings).All(sitting => sitting.IsPinned);
        string[] parts =
        [
            $"{environment.Runtime} {environment.Architecture}",
            run.Machine.Processor,
            environment.IsOptimized ? "optimised build" : "DEBUG build",
            .. environment.Switches,
            findings.SittingsApart > 0 ? $"{Counted(findings.Sittings, "sitting")} together, {findings.SittingsApart} apart" : Counted(findings.Sittings, "sitting"),
            Counted(findings.Rounds, "round"),
            pinned ? "one processor a round" : "not held to a processor",
            string.Create(CultureInfo.InvariantCulture, $"seed {run.Plan.Seed}"),
            .. TwinWithin(findings),
        ];
        return string.Join(" · ", parts);
    }

    // The least difference this run could have claimed, at its worst input.
    private static IEnumerable<string> TwinWithin(StudyFindings findings)
    {
        var floors = findings.Inputs.Select(input => input.FloorShare).Where(double.IsFinite).ToList();
        if (floors.Count > 0)
        {
            yield return $"twins within {Quantity.Percent(floors.Max())}";
        }
    }

    private static IEnumerable<string> Remarks(Run run, StudyFindings findings)
    {
        var cells = findings.Inputs.SelectMany(input => input.Cells).Where(cell => cell.Failure is null).ToList();
        var floors = cells.Select(cell => cell.Loop with { Threads = cell.Loop.Threads is null ? null : 0 }).Distinct()
            .Where(loop => loop != new LoopShape() && loop.FloorNanoseconds() > new LoopShape().FloorNanoseconds())
            .GroupBy(loop => (Words: loop.InWords(), Floor: loop.FloorNanoseconds()))
            .Select(group => $"{group.Key.Words}: up to {Quantity.Time(group.Key.Floor)}")
            .ToList();
        if (floors.Count > 0)
        {
            yield return $"what the loop may leave in a time, beyond 0.1 ns: {string.Join("; ", floors)}";
        }

        if (cells.Any(cell => cell.Loop.Result == ResultKind.Enumerated))
        {
            yield return "answers are sequences that may be evaluated late, so they are enumerated inside the timing";
        }

        if (findings.Study.IsInputChanged)
        {
            yield return "every call gets an input of its own, made outside the timing";
        }

        if (cells.Any(cell => cell.Loop.Threads is not null))
        {
            yield return "with several threads, the time is that of one call as each thread sees it; rows are compared with the baseline on as many threads";
        }

        var cost = run.Studies.Where(study => study.Study.Name == findings.Study.Name).SelectMany(study => study.Sittings).Select(sitting => sitting.StageCost).FirstOrDefault(cost => cost is not null);
        if (cost is not null)
        {
            yield return $"a mark costs {Quantity.Time(cost.InsideNanoseconds + cost.OutsideNanoseconds)} where stages are looked at, which is taken out of them, and {Quantity.Time(cost.UnreadNanoseconds)} in the times above";
        }
    }

    private static string Counted(int count, string what) => $"{Quantity.Count(count)} {what}{(count == 1 ? "" : "s")}";

    // The same reason for many cells is told once.
    private static IEnumerable<Caveat> Merged(IReadOnlyList<Caveat> caveats)
        => caveats.GroupBy(caveat => caveat.Name).Select(group =>
        {
            var first = group.First();
            var subjects = group.Where(caveat => caveat.Subject is not null).Select(caveat => caveat.Subject!).ToList();
            if (subjects.Count < 2)
            {
                return first;
            }

            var named = string.Join("; ", subjects.Take(SubjectsNamed));
            var more = subjects.Count > SubjectsNamed ? string.Create(CultureInfo.InvariantCulture, $" and {subjects.Count - SubjectsNamed} more") : "";
            return first with { Subject = named + more, Evidence = $"{first.Evidence} (figures of the first)" };
        });
}
