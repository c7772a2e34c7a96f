using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Overviews;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Puts findings into words and figures. Pure.</summary>
public static class StudyReporter
{
    internal const string WholeChain = "all of it together";
    private const int SubjectsNamed = 3;

    /// <summary>What is to be shown of a study.</summary>
    /// <param name="run">The run it belongs to.</param>
    /// <param name="findings">What was found.</param>
    /// <param name="note">Why it ended early; null when it did not.</param>
    /// <param name="options">What to show, and how; the defaults when null.</param>
    public static StudyReport Report(Run run, StudyFindings findings, string? note, ReportOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(findings);
        var shown = WithAsked(options ?? ReportOptions.Default, run.Plan);
        var isAsked = shown.Has(Block.Inputs) || shown.Columns is not null || findings.Against == Against.Each;
        var isTabled = isAsked || findings.Inputs.Count == 1;
        return new StudyReport
        {
            Study = findings.Study.Name,
            Conclusion = [.. Conclusions.Conclusion.Of(findings).Where(sentence => IsShown(sentence.Question, shown))],
            Overview = findings.Inputs.Count == 0 ? null : OverviewReporter.Of(findings, shown),
            Failures = [.. OverviewReporter.Failures(findings)],
            Guests = [.. Guests(findings.Study)],
            Doubts = shown.Has(Block.Caveats) ? [] : [.. OverviewReporter.Doubts(findings)],
            Tables = [.. findings.Inputs.Select(input => Table(findings, input, shown, isTabled))
                .Where(table => isTabled || table.Figures.Count > 0)],
            AreTablesAsked = isAsked,
            Charts = shown.Has(Block.Growth)
                ? [.. findings.Growth.Select(growth => GrowthChart.Of(findings.Study, growth)).OfType<GrowthChart>()]
                : [],
            Answers = [.. AnswerReporter.Of(findings, shown), .. shown.Has(Block.Payoff)
                ? [PayoffReporter.Report(findings, shown.Terms(PayoffReporter.Terms(findings.Study)), isAsked)] : (FigureTable[])[]],
            Environment = shown.Has(Block.Ground) ? Environment(run, findings) : "",
            Remarks = shown.Has(Block.Ground) ? [.. Remarks(run, findings)] : [],
            Checks = shown.Has(Block.Checks) ? [.. FigureReporter.Checks(findings)] : [],
            Caveats = shown.Has(Block.Caveats) ? [.. Merged(findings.Caveats)] : [],
            Note = Notes(run, findings, note),
        };
    }

    // What a row's build begins with is the compiler or runtime that tells of itself.
    internal static IEnumerable<string> Guests(StudyDescription study)
    {
        var told = study.Variants.Where(row => row.Guest?.Version is not null)
            .Select(row => $"{row.Guest!.Build.Split(' ')[0]}: {row.Guest.Version}").Distinct().ToList();
        return told.Count == 0 ? [] : [string.Join("; ", told)];
    }

    // What is to be done, and what is open; the rest belongs to its block.
    private static bool IsShown(Question question, ReportOptions shown) => question switch
    {
        Question.Ranking or Question.Flip or Question.Chain => shown.Has(Block.Words),
        Question.Growth => shown.Has(Block.Growth) || shown.Has(Block.Words),
        Question.Stage => shown.Has(Block.Stages) || shown.Has(Block.Words),
        Question.Collections => shown.Has(Block.Figures) || shown.Has(Block.Words),
        _ => true,
    };

    // What was measured because it was asked for is shown.
    private static ReportOptions WithAsked(ReportOptions options, RunPlan plan)
        => plan is { Diagnoses.Count: 0, IsApart: false, IsCollectionHeld: false, IsCollectionCompared: false, IsOverlappedRead: false,
            IsCalledRead: false }
            ? options
            : options with { Shown = new HashSet<Block>(options.Shown) { Block.Figures } };

    /// <summary>
    /// What is to be shown of a study on several targets: them side by side, and each by itself where all figures are shown; the one there
    /// is when there is but one.
    /// </summary>
    /// <param name="run">The run it belongs to.</param>
    /// <param name="found">What was found on each.</param>
    /// <param name="note">Why it ended early; null when it did not.</param>
    /// <param name="options">What to show, and how; the defaults when null.</param>
    public static IEnumerable<StudyReport> ReportTargets(Run run, StudyOnTargets found, string? note, ReportOptions? options)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(found);
        if (run.Targets.Count < 2)
        {
            return [Report(run, found.Targets[0], note, options)];
        }

        var each = found.Targets.Select((findings, target) => Report(run with { Environment = run.Targets[target].Environment }, findings,
            null, options) with { Study = $"{findings.Study.Name} on {run.Targets[target].Name}" });
        // What lives in other languages is on no target, and stands beside the first's rows.
        var isEachAsked = options?.Has(Block.Inputs) == true;
        return [TargetReporter.Report(run, found, note, options ?? ReportOptions.Default), .. isEachAsked ? each
            : found.Targets[0].Study.Variants.Any(row => row.Guest is not null) ? each.Take(1)
            : []];
    }

    // Why it ended early, and why what was asked for is not there.
    private static string? Notes(Run run, StudyFindings findings, string? note)
    {
        var missing = run.Plan.AreSpeedsSought ? SpeedText.TooFew(findings) : null;
        return note is null || missing is null ? note ?? missing : $"{note}; {missing}";
    }

    private static StudyTable Table(StudyFindings findings, InputFindings input, ReportOptions options, bool isTabled)
    {
        // A figure that no row of the study has takes no room.
        IReadOnlyList<Figure> figures = options.Columns is null
            ? [.. FigureCatalogue.InTable.Where(figure => figure.Kind != ColumnKind.Figure
                || findings.Inputs.Any(on => on.Cells.Any(cell => figure.Write(cell).Length > 0)))]
            : [.. options.Columns.Select(key => FigureCatalogue.All.First(figure => figure.Key == key))];
        StudyRow[] rows = !isTabled ? [] : [.. Sorted(input.Cells, options.Sort).Select(cell => Row(cell, figures, findings.Sittings))];
        return new StudyTable
        {
            Input = input.Input.Label,
            Columns = [.. figures.Select(figure => figure.Column(findings.Against))],
            AreColumnsChosen = options.Columns is not null,
            Rows = !isTabled ? [] : [.. rows, .. input.Chains.Select(chain => ChainRow(chain, figures, findings.Sittings))],
            Scale = MarkScale.For([.. rows.SelectMany(row => row.Marks)]),
            Figures =
            [
                .. findings.Against == Against.Each ? AnswerReporter.Pairs(findings.Study, input) : [],
                .. SpeedText.Tables(input.Cells, findings.Copies),
                .. FigureReporter.Of(input, options),
            ],
        };
    }

    private static IEnumerable<CellFindings> Sorted(IReadOnlyList<CellFindings> cells, SortOrder order)
    {
        // What has no figure comes last.
        static double Last(double figure) => double.IsNaN(figure) ? double.PositiveInfinity : figure;
        return order switch
        {
            SortOrder.Time => cells.OrderBy(cell => Last(cell.NanosecondsPerCall.Estimate)),
            SortOrder.Bytes => cells.OrderBy(cell => cell.Failure is null ? Last(cell.AllocatedBytesPerCall) : double.PositiveInfinity),
            SortOrder.Name => cells.OrderBy(cell => cell.Variant.Name, StringComparer.OrdinalIgnoreCase),
            _ => cells,
        };
    }

    private static StudyRow Row(CellFindings cell, IReadOnlyList<Figure> figures, int sittings)
    {
        var (word, tone) = Verdict(cell, sittings);
        return new StudyRow
        {
            Variant = cell.Variant.Name,
            Figures = [.. figures.Select(figure => figure.Write(cell))],
            Marks = cell.Contrast is not { } contrast ? []
                : [.. (contrast.Speeds.Count > 0 ? contrast.Speeds.Select(speed => speed.TimeRatio) : [contrast.TimeRatio])
                    .Where(ratio => ratio is { IsMeasured: true, IsBounded: true, Lower: > 0 })
                    .Select(ratio => new Mark(ratio.Lower, ratio.Estimate, ratio.Upper))],
            Verdict = word,
            Tone = tone,
        };
    }

    private static StudyRow ChainRow(Contrast chain, IReadOnlyList<Figure> figures, int sittings)
    {
        var cell = OfContrast(chain);
        return Row(cell, figures, sittings) with { Figures = [.. figures.Select(figure => figure.IsOfContrast ? figure.Write(cell) : "")] };
    }

    /// <summary>The whole chain has no time of its own.</summary>
    internal static CellFindings OfContrast(Contrast chain) => new()
    {
        Variant = new VariantDescription { Name = WholeChain, Variant = "" },
        NanosecondsPerCall = Interval.Unknown(chain.TimeRatio.Level),
        Signals = new SignalCount(),
        Contrast = chain,
    };

    internal static (string Word, Tone Tone) Verdict(CellFindings cell, int sittings) => cell switch
    {
        { Failure.Kind: CellFailureKind.Disagrees } => ("disagrees", Tone.Failed),
        { Failure.Kind: CellFailureKind.Threw } => ("threw", Tone.Failed),
        { Failure.Kind: CellFailureKind.Died } => ("died", Tone.Failed),
        { Failure.Kind: CellFailureKind.Hung } => ("hung", Tone.Failed),
        { Failure.Kind: CellFailureKind.LeftStageOpen } => ("stage open", Tone.Failed),
        { Failure.Kind: CellFailureKind.NotBuilt } => ("not built", Tone.Aside),
        { Failure.Kind: CellFailureKind.Missing } => ("not there", Tone.Aside),
        { Variant.Part: VariantPart.Prepare, Contrast: null } => ("once", Tone.Aside),
        { Variant.IsBaseline: true, Contrast: null } => ("baseline", Tone.Reference),
        { Contrast: null } => ("not compared", Tone.Open),
        { Contrast.Verdict: Analysis.Contrasts.Verdict.Unclear } when sittings < 2 => ("too early", Tone.Open),
        { Contrast.DependsOnSpeed: true } => ("depends", Tone.Open),
        { Contrast.Verdict: var verdict } => (Word(verdict), ToneOf(verdict)),
    };

    internal static string Word(Verdict verdict) => verdict switch
    {
        Analysis.Contrasts.Verdict.Faster => "faster",
        Analysis.Contrasts.Verdict.Slower => "slower",
        Analysis.Contrasts.Verdict.Same => "same",
        _ => "unclear",
    };

    private static Tone ToneOf(Verdict verdict) => verdict switch
    {
        Analysis.Contrasts.Verdict.Faster => Tone.Good,
        Analysis.Contrasts.Verdict.Slower => Tone.Bad,
        Analysis.Contrasts.Verdict.Same => Tone.Even,
        _ => Tone.Open,
    };

    private static string Environment(Run run, StudyFindings findings)
    {
        var environment = run.Environment;
        var pinned = run.Studies.Where(study => study.Study.Name == findings.Study.Name).SelectMany(study => study.Sittings)
            .All(sitting => sitting.IsPinned);
        string[] parts =
        [
            $"{environment.Runtime} {environment.Architecture}",
            run.Machine.Processor,
            environment.IsOptimized ? "optimised build" : "DEBUG build",
            .. environment.Switches,
            Sittings(findings),
            Counted(findings.Rounds, "round"),
            .. Core(findings.Core),
            .. pinned ? [] : (string[])["not held to a processor"],
            string.Create(CultureInfo.InvariantCulture, $"seed {run.Plan.Seed}"),
            .. Together(findings),
            .. TwinWithin(findings),
        ];
        return string.Join(" · ", parts);
    }

    // What was read in quiet moments counts, or is what all is brought to; where there were too few for either, a caveat says so.
    private static IEnumerable<string> Core(CoreFindings core)
    {
        if (core is { IsKnown: true, IsQuiet: true })
        {
            yield return core.IsAdjusted
                ? $"with the core to itself beside {Quantity.Percent(core.QuietShare)} of the readings, to which all were brought"
                : $"by the {Quantity.Percent(core.QuietShare)} of readings with the core to itself";
        }
    }

    private static string Sittings(StudyFindings findings)
    {
        string[] others =
        [
            .. findings.SittingsApart > 0 ? [$"{Quantity.Count(findings.SittingsApart)} apart"] : (string[])[],
            .. findings.SittingsHeld > 0 ? [$"{Quantity.Count(findings.SittingsHeld)} with the collector kept out"] : (string[])[],
        ];
        var copies = findings.Copies > 1 ? string.Create(CultureInfo.InvariantCulture, $" of {findings.Copies} copies") : "";
        return others.Length == 0 ? $"{Counted(findings.Sittings, "sitting")}{copies}"
            : $"{Counted(findings.Sittings, "sitting")} {(findings.SittingsApart > 0 ? "together" : "with it free")}, "
                + $"{string.Join(", ", others)}";
    }

    private static IEnumerable<string> Together(StudyFindings findings)
    {
        if (findings.Sittings > 1 && findings.Inputs.SelectMany(input => input.Cells).Any(cell => cell.Contrast is not null))
        {
            yield return $"a table's factors hold together at {Quantity.Small(100 * findings.IntervalLevel)} %, each time by itself";
        }
    }

    // The least difference this run could have claimed, at its worst input.
    private static IEnumerable<string> TwinWithin(StudyFindings findings)
    {
        var resolutions = findings.Inputs.Select(input => input.ResolutionShare).Where(double.IsFinite).ToList();
        if (resolutions.Count > 0)
        {
            yield return $"twins within {Quantity.Percent(resolutions.Max())}";
        }
    }

    private static IEnumerable<string> Remarks(Run run, StudyFindings findings)
    {
        var cells = findings.Inputs.SelectMany(input => input.Cells).Where(cell => cell.Failure is null).ToList();
        var residues = cells.Select(cell => cell.Loop with { Threads = cell.Loop.Threads is null ? null : 0 }).Distinct()
            .Where(loop => loop != new LoopShape() && loop.ResidueNanoseconds() > new LoopShape().ResidueNanoseconds())
            .GroupBy(loop => (Words: loop.InWords(), Residue: loop.ResidueNanoseconds()))
            .Select(group => $"{group.Key.Words}: up to {Quantity.Time(group.Key.Residue)}")
            .ToList();
        if (residues.Count > 0)
        {
            yield return $"what the loop may leave in a time, beyond 0.1 ns: {string.Join("; ", residues)}";
        }

        if (cells.Any(cell => cell.Loop.Result == ResultKind.Enumerated))
        {
            yield return "answers are sequences that may be evaluated late, so they are enumerated inside the timing";
        }

        if (findings.CopiesProblem is { } problem)
        {
            var copies = findings.Copies == 1 ? "one copy" : $"{Quantity.Count(findings.Copies)} copies";
            yield return $"its code was read in {copies} a sitting and no more: {problem}";
        }

        if (findings.Study.IsInputChanged)
        {
            yield return "every call gets an input of its own, made outside the timing";
        }

        if (cells.Any(cell => cell.Loop.Threads is not null))
        {
            yield return "with several threads, the time is that of one call as each thread sees it; rows are compared with the "
                + "baseline on as many threads";
        }

        var cost = run.Studies.Where(study => study.Study.Name == findings.Study.Name).SelectMany(study => study.Sittings)
            .SelectMany(sitting => sitting.StageCosts).FirstOrDefault();
        if (cost is not null)
        {
            yield return $"a mark costs {Quantity.Time(cost.InsideNanoseconds + cost.OutsideNanoseconds)} where stages are looked at, "
                + $"which is taken out of them, and {Quantity.Time(cost.UnreadNanoseconds)} in the times above";
        }
    }

    private static string Counted(int count, string what) => $"{Quantity.Count(count)} {what}{(count == 1 ? "" : "s")}";

    // The same reason for many cells is told once.
    internal static IEnumerable<Caveat> Merged(IReadOnlyList<Caveat> caveats)
        => caveats.GroupBy(caveat => caveat.Name).Select(group =>
        {
            var first = group.First();
            var subjects = group.Where(caveat => caveat.Subject is not null).Select(caveat => caveat.Subject!).ToList();
            if (subjects.Count < 2)
            {
                return first;
            }

            var named = string.Join("; ", subjects.Take(SubjectsNamed));
            var more = subjects.Count > SubjectsNamed
                ? string.Create(CultureInfo.InvariantCulture, $" and {subjects.Count - SubjectsNamed} more")
                : "";
            return first with { Subject = named + more, Evidence = $"{first.Evidence} (figures of the first)" };
        });
}
