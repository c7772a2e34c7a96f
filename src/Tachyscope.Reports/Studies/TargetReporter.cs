using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Overviews;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>
/// Puts a study's targets side by side: what changed between them beyond the noise, each row across targets, the rows on each target, what
/// each target is. Pure.
/// </summary>
internal static class TargetReporter
{
    private const int NamesListed = 3;
    private const int CommitLetters = 10;

    /// <param name="run">The run.</param>
    /// <param name="found">What was found on its targets.</param>
    /// <param name="note">Why it ended early; null when it did not.</param>
    /// <param name="options">What to show, and how.</param>
    public static StudyReport Report(Run run, StudyOnTargets found, string? note, ReportOptions options)
    {
        var (first, names) = (found.Targets[0], (IReadOnlyList<string>)[.. run.Targets.Select(target => target.Name)]);
        var facts = Facts(run);
        return new StudyReport
        {
            Study = $"{first.Study.Name} · on {Wording.List(names)}",
            Conclusion = [.. Sentences(found, names).Select(sentence => Sentence.Of(Question.Target, sentence, []))],
            Tables = [],
            TargetTables = [.. Enumerable.Range(0, first.Inputs.Count).Select(input => Across(found, names, input))],
            Answers =
            [
                .. options.Has(Block.Inputs) ? Enumerable.Range(0, first.Inputs.Count)
                    .SelectMany(input => OfInput(found, names, input)) : [],
                .. facts.Rows.Count > 0 && options.Has(Block.Ground) ? [facts] : (FigureTable[])[],
            ],
            Environment = options.Has(Block.Ground) ? Ground(run, found) : "",
            Failures = [.. NotTimed(found, names)],
            Guests = [.. StudyReporter.Guests(first.Study)],
            Doubts = options.Has(Block.Caveats) ? [] : [.. Caveats(run, found, names).Where(caveat => !caveat.IsOfRun)
                .Select(caveat => new Doubt(caveat.Name, caveat.Subject ?? caveat.Evidence, caveat.IsNote))],
            Caveats = options.Has(Block.Caveats) ? [.. Caveats(run, found, names)] : [],
            Note = note,
        };
    }

    private static IEnumerable<string> Sentences(StudyOnTargets found, IReadOnlyList<string> names)
    {
        for (var target = 1; target < names.Count; target++)
        {
            var all = found.Contrasts.Where(contrast => contrast.Target == target).ToList();
            if (all.Count == 0)
            {
                yield return $"nothing was measured on both {names[target]} and {names[0]}";
                continue;
            }

            string[] parts =
            [
                .. Told(found, all, Verdict.Faster, "faster"),
                .. Told(found, all, Verdict.Slower, "slower"),
                .. Counted(all, Verdict.Same, $"the same within {Quantity.Percent(found.Targets[0].MarginShare)}"),
                .. Counted(all, Verdict.Unclear,
                    found.Targets[0].Sittings < 2 ? "open, since one sitting tells nothing yet," : "not told apart"),
            ];
            yield return $"on {names[target]}, against {names[0]}: {string.Join("; ", parts)}";
            if (all.Exists(contrast => contrast.Repeats.Count > 1))
            {
                var apart = all.Where(contrast => !contrast.DoRepeatsAgree).ToList();
                yield return apart.Count == 0
                    ? string.Create(CultureInfo.InvariantCulture, $"the {all[0].Repeats.Count} repeats agree with each other")
                    : "the repeats differ by more than their intervals allow for "
                        + $"{Wording.Some(apart.Select(contrast => Place(found, contrast)), NamesListed)}: believe their spread";
            }
        }

        foreach (var turned in Turned(found, names))
        {
            yield return turned;
        }
    }

    private static IEnumerable<string> Told(StudyOnTargets found, List<TargetContrast> all, Verdict verdict, string word)
    {
        // The largest first, by what is told.
        var told = all.Where(contrast => contrast.Verdict == verdict)
            .OrderByDescending(contrast => Math.Abs(Math.Log(contrast.TimeRatio.Estimate))).ToList();
        if (told.Count == 0)
        {
            yield break;
        }

        var most = string.Join(", ", told.Take(NamesListed)
            .Select(contrast => $"{Place(found, contrast)} {Quantity.FactorOnly(contrast.TimeRatio)}"));
        yield return told.Count == all.Count && all.Count > 1
            ? string.Create(CultureInfo.InvariantCulture, $"{(all.Count == 2 ? "both" : $"all {all.Count}")} comparisons {word}, "
                + $"{(all.Count > NamesListed ? "most of all " : "")}{most}")
            : Wording.Invariant($"{word} in {told.Count} of {all.Count}, {(told.Count > NamesListed ? "most of all " : "")}{most}");
    }

    private static IEnumerable<string> Counted(List<TargetContrast> all, Verdict verdict, string words)
    {
        if (all.Count(contrast => contrast.Verdict == verdict) is > 0 and var count)
        {
            yield return count == all.Count
                ? Wording.Invariant($"{words} in {count} of {count}")
                : Wording.Invariant($"{words} in {count}");
        }
    }

    // Faster than the baseline here and slower there.
    private static IEnumerable<string> Turned(StudyOnTargets found, IReadOnlyList<string> names)
    {
        var turned = (from input in Enumerable.Range(0, found.Targets[0].Inputs.Count)
                      from row in Enumerable.Range(0, found.Targets[0].Study.Variants.Count)
                      let verdicts = found.Targets.Select((findings, target) => (Target: target, Cell(findings, row, input)?.Contrast))
                          .Where(there => there.Contrast is not null).ToList()
                      let faster = verdicts.FirstOrDefault(there => there.Contrast!.Verdict == Verdict.Faster)
                      let slower = verdicts.FirstOrDefault(there => there.Contrast!.Verdict == Verdict.Slower)
                      where faster.Contrast is not null && slower.Contrast is not null
                      select $"{Name(found, row)} is faster than {Name(found, faster.Contrast.Other)} on {names[faster.Target]} and "
                          + $"slower on {names[slower.Target]}{On(found, input)}").ToList();
        if (turned.Count > 0)
        {
            yield return $"the order changes with the target: {string.Join("; ", turned.Take(NamesListed))}"
                + (turned.Count > NamesListed ? Wording.Invariant($"; so it is in {turned.Count - NamesListed} more") : "");
        }
    }

    private static IEnumerable<FigureTable> OfInput(StudyOnTargets found, IReadOnlyList<string> names, int input)
    {
        var label = found.Targets[0].Inputs[input].Input.Label;
        if (names.Count == 2)
        {
            yield return Both(found, names, input, label);
        }

        if (found.Targets.Any(findings => findings.Inputs[input].Cells.Any(cell => cell.Contrast is not null)))
        {
            var rows = Enumerable.Range(0, found.Targets[0].Study.Variants.Count).ToList();
            yield return Table($"{label}, on each target", names,
                rows.ConvertAll(row => Row(found, row, target => Against(found.Targets[target], row, input), names.Count)));
        }
    }

    // Two targets have room for all that is known of both.
    private static FigureTable Both(StudyOnTargets found, IReadOnlyList<string> names, int input, string label)
    {
        var repeats = found.Contrasts.Select(contrast => contrast.Repeats.Count).DefaultIfEmpty(0).Max();
        return new FigureTable
        {
            Title = label,
            Of = "variant",
            AreHeadingsNames = true,
            Headings = [names[0], names[1], "changed to", .. Enumerable.Range(1, repeats)
                .Select(repeat => Wording.Invariant($"repeat {repeat}")), "saved", "bytes per call", "verdict"],
            Rows = [.. Enumerable.Range(0, found.Targets[0].Study.Variants.Count).Select(row =>
            {
                var contrast = found.Contrast(row, input, 1);
                var (before, after) = (Bytes(found.Targets[0], row, input), Bytes(found.Targets[1], row, input));
                return new FigureRow(found.Targets[0].Study.Variants[row].Name,
                [
                    Time(found.Targets[0], row, input),
                    Time(found.Targets[1], row, input),
                    contrast is null ? Quantity.Absent : Quantity.Factor(contrast.TimeRatio),
                    .. Enumerable.Range(0, repeats)
                        .Select(repeat => contrast?.Repeats.ElementAtOrDefault(repeat) is { IsKnown: true } ratio
                            ? Quantity.Factor(ratio)
                            : Quantity.Absent),
                    contrast is { TimeRatio.Bound: Bound.None } ? Quantity.Percent(1 - contrast.TimeRatio.Estimate) : "",
                    before == after || after.Length == 0 ? before : before.Length == 0 ? after : $"{before} → {after}",
                    contrast is null ? "" : AnswerReporter.Sign(contrast.Verdict) + " " + Word(contrast.Verdict),
                ]);
            })],
        };
    }

    // Each target against the first: the same row in another process.
    private static OverviewTable Across(StudyOnTargets found, IReadOnlyList<string> names, int input)
        => OverviewReporter.WithBytesWhereTheyDiffer(new OverviewTable
        {
            Title = found.Targets[0].Inputs[input].Input.Label,
            Columns = names,
            Rows = [.. Enumerable.Range(0, found.Targets[0].Study.Variants.Count).Select(row => OverviewReporter.Row(
                found.Targets[0].Study.Variants[row].Name,
                [.. found.Targets.Select(findings => Cell(findings, row, input))],
                (cell, target) => OnTarget(cell, found.Contrast(row, input, target), found.Targets[target].Sittings),
                found.Targets[0].Study.Variants[row].IsBaseline ? "baseline" : ""))],
        });

    private static OverviewCell OnTarget(CellFindings cell, TargetContrast? over, int sittings)
    {
        var compared = cell with { Contrast = over is null ? null : new Contrast { TimeRatio = over.TimeRatio, Verdict = over.Verdict } };
        var written = OverviewReporter.Cell(compared, sittings, isDoubted: false);
        // The first target is what the others are compared with.
        return over is null && cell.Failure is null ? written with { Tone = Tone.Reference, Verdict = "first" } : written;
    }

    private static FigureTable Table(string title, IReadOnlyList<string> names, IReadOnlyList<FigureRow> rows)
        => new() { Title = title, Of = "variant", AreHeadingsNames = true, Headings = names, Rows = rows };

    private static FigureRow Row(StudyOnTargets found, int row, Func<int, string> figure, int targets)
        => new(found.Targets[0].Study.Variants[row].Name, [.. Enumerable.Range(0, targets).Select(figure)]);

    private static CellFindings? Cell(StudyFindings findings, int row, int input)
        => findings.Inputs[input].Cells.FirstOrDefault(cell => cell.Row == row);

    private static string Time(StudyFindings findings, int row, int input) => Cell(findings, row, input) switch
    {
        { Failure: null } cell => Quantity.Time(cell.NanosecondsPerCall),
        { Failure.Kind: CellFailureKind.NotBuilt } => "not built",
        { Failure.Kind: CellFailureKind.Missing } => "not there",
        { Failure.Kind: CellFailureKind.Disagrees } => "disagrees",
        null => Quantity.Absent,
        _ => "not timed",
    };

    private static string Bytes(StudyFindings findings, int row, int input)
        => Cell(findings, row, input) is { Failure: null } cell && double.IsFinite(cell.AllocatedBytesPerCall)
            ? Quantity.Bytes(cell.AllocatedBytesPerCall)
            : "";

    private static string Against(StudyFindings findings, int row, int input) => Cell(findings, row, input) switch
    {
        { Failure: not null } or null => Time(findings, row, input),
        { Contrast: { } contrast } => $"{Quantity.Factor(contrast.TimeRatio)} {AnswerReporter.Sign(contrast.Verdict)}",
        { Variant.IsBaseline: true, Variant.Part: not VariantPart.Prepare } => "baseline",
        var cell => Quantity.Time(cell.NanosecondsPerCall),
    };

    private static string Word(Verdict verdict) => verdict switch
    {
        Verdict.Faster => "faster",
        Verdict.Slower => "slower",
        Verdict.Same => "same",
        _ => "unclear",
    };

    private static string Name(StudyOnTargets found, int row) => Wording.Name(found.Targets[0].Study.Variants[row]);

    private static string On(StudyOnTargets found, int input)
        => found.Targets[0].Inputs.Count == 1 ? "" : $" on {found.Targets[0].Inputs[input].Input.Label}";

    private static string Place(StudyOnTargets found, TargetContrast contrast) => Name(found, contrast.Row) + On(found, contrast.Input);

    /// <summary>What differs between the targets, as each process tells it.</summary>
    private static FigureTable Facts(Run run)
    {
        (string Name, Func<TargetDescription, string> Of)[] facts =
        [
            ("runtime", target => target.Environment.Runtime),
            ("compiled for", target => target.Environment.Framework ?? Quantity.Absent),
            ("compiler", target => target.Compiler ?? Quantity.Absent),
            ("optimised", target => target.Environment.IsOptimized ? "yes" : "no"),
            ("machine code", target => target.Environment.IsAheadOfTime ? "ahead of time" : "just in time"),
            ("vectors", target => Wording.Invariant($"{target.Environment.VectorBits} bits")),
            ("instructions", target => string.Join(", ", target.Environment.InstructionSets.DefaultIfEmpty(Quantity.Absent))),
            ("collector", Collector),
            ("switches", target => target.Switches.Count == 0
                ? Quantity.Absent
                : string.Join(", ", target.Switches
                    .Select(state => $"{state.Name}={state.Value}{(state.IsSeen ? "" : " (effect not checked)")}"))),
            ("commit", target => target.Commit is null
                ? Quantity.Absent
                : target.Commit[..Math.Min(CommitLetters, target.Commit.Length)] + (target.IsDirty ? " with changes" : "")),
        ];
        return new FigureTable
        {
            Title = "what differs between them",
            Of = "fact",
            AreHeadingsNames = true,
            Headings = [.. run.Targets.Select(target => target.Name)],
            Rows = [.. facts.Where(fact => run.Targets.Select(fact.Of).Distinct().Count() > 1)
                .Select(fact => new FigureRow(fact.Name, [.. run.Targets.Select(fact.Of)]))],
        };
    }

    // Between one compiler and another; a switch that narrows what one process uses was asked for.
    private static bool IsUnequal(WorkerEnvironment first, WorkerEnvironment other)
        => first.IsAheadOfTime != other.IsAheadOfTime && first.Architecture == other.Architecture
            && (first.VectorBits != other.VectorBits || !first.InstructionSets.ToHashSet().SetEquals(other.InstructionSets));

    private static string Instructions(WorkerEnvironment environment)
        => Wording.Invariant($"vectors of {environment.VectorBits} bits")
            + (environment.InstructionSets.Count == 0 ? "" : $" and {Wording.List(environment.InstructionSets)}");

    private static string Collector(TargetDescription target)
        => $"{(target.Environment.IsServerGc ? "server" : "workstation")}{(target.Environment.IsConcurrentGc ? ", concurrent" : "")}";

    // What is the same on all of them, in a line.
    private static string Ground(Run run, StudyOnTargets found)
    {
        string? Same(Func<TargetDescription, string?> of) => run.Targets.Select(of).Distinct().ToList() is [{ } one] ? one : null;
        var findings = found.Targets[0];
        var resolutions = found.Targets.SelectMany(on => on.Inputs).Select(input => input.ResolutionShare).Where(double.IsFinite).ToList();
        string?[] parts =
        [
            Same(target => target.Environment.Runtime),
            Same(target => target.Environment.Architecture),
            run.Machine.Processor,
            Same(target => target.Environment.Framework is { } framework ? $"compiled for {framework}" : null),
            Same(target => target.Compiler is { } compiler ? $"compiler {compiler}" : null),
            Same(target => Wording.Invariant($"vectors of {target.Environment.VectorBits} bits")),
            Same(target => $"{Collector(target)} collector"),
            Same(target => target.Commit is null
                ? null
                : $"commit {target.Commit[..Math.Min(CommitLetters, target.Commit.Length)]}"
                    + (target.IsDirty ? " with changes that are in no commit" : "")),
            Wording.Invariant($"{findings.Sittings} sitting{(findings.Sittings == 1 ? "" : "s")}"),
            Wording.Invariant($"{Quantity.Count(findings.Rounds)} rounds through all targets"),
            Wording.Invariant($"seed {run.Plan.Seed}"),
            resolutions.Count > 0 ? $"twins within {Quantity.Percent(resolutions.Max())}" : null,
        ];
        return string.Join(" · ", parts.OfType<string>());
    }

    private static IEnumerable<string> NotTimed(StudyOnTargets found, IReadOnlyList<string> names)
        => from target in Enumerable.Range(0, names.Count)
           from input in found.Targets[target].Inputs
           from cell in input.Cells
           where cell.Failure is not null
           group input.Input.Label by (names[target], cell.Variant.Name, cell.Failure!.Reason, cell.Failure.Kind) into same
           select same.Key.Kind == CellFailureKind.Missing ? $"{same.Key.Name}: {same.Key.Reason}"
               : $"{same.Key.Name} on {same.Key.Item1} ({Wording.Some(same, NamesListed)}): {same.Key.Reason}";

    private static IEnumerable<Caveat> Caveats(Run run, StudyOnTargets found, IReadOnlyList<string> names)
    {
        // The same of every target is a matter of the machine or of the study.
        var all = found.Targets.SelectMany((findings, target) => findings.Caveats.Select(caveat => (Caveat: caveat, Target: target)))
            .GroupBy(told => told.Caveat)
            .Select(same => same.Count() == names.Count || same.Key.Subject is null && same.Count() > 1 ? same.Key
                : same.Key with
                {
                    Subject = (same.Key.Subject is { } subject ? $"{subject}, " : "")
                        + Wording.List(same.Select(told => names[told.Target])),
                });
        foreach (var caveat in StudyReporter.Merged([.. all]))
        {
            yield return caveat;
        }

        foreach (var target in run.Targets.Where(target => IsUnequal(run.Targets[0].Environment, target.Environment)))
        {
            yield return new Caveat
            {
                Name = "instructions-differ",
                Subject = target.Name,
                Evidence = $"its code uses {Instructions(target.Environment)}, where that of {run.Targets[0].Name} uses "
                    + $"{Instructions(run.Targets[0].Environment)}: the ahead-of-time compiler could not be told to use just the same",
                WayOut = "see with instructions= what wider or narrower vectors make of it; believe no small difference of code that "
                    + "uses them",
            };
        }

        foreach (var target in run.Targets.Where(target => target.Switches.Any(state => !state.IsSeen)))
        {
            yield return new Caveat
            {
                Name = "switch-unchecked",
                Subject = target.Name,
                Evidence = "whether "
                    + string.Join(", ", target.Switches.Where(state => !state.IsSeen).Select(state => $"{state.Name}={state.Value}"))
                    + " does anything could not be seen in the process, and the runtime ignores in silence what it does not know",
                WayOut = "see by its figures that it does, or by what the runtime's documents say of that version",
            };
        }
    }
}
