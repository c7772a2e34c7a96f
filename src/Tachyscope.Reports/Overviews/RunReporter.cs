using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Overviews;

/// <summary>Says once a run what holds for all its studies: what to take in each, the ground under the figures, what is doubtful
/// everywhere. Pure.</summary>
public static class RunReporter
{
    private const int StudiesNamed = 3;

    /// <summary>Every study in a row; null for a single one.</summary>
    /// <param name="found">What was found of the run's studies.</param>
    public static FigureTable? Summary(IReadOnlyList<StudyOnTargets> found)
    {
        ArgumentNullException.ThrowIfNull(found);
        return found.Count < 2 || found.Any(study => study.Targets.Count > 1) ? null : new FigureTable
        {
            Title = "all studies",
            Of = "study",
            Headings = ["take", "baseline's time", "baseline's bytes", "open"],
            AreFiguresWords = true,
            Rows = [.. found.Select(study => Row(study.Targets[0]))],
        };
    }

    /// <summary>The ground under a run's figures, one line each.</summary>
    /// <param name="run">The run.</param>
    /// <param name="found">What was found of its studies.</param>
    public static IReadOnlyList<string> Ground(Run run, IReadOnlyList<StudyOnTargets> found)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(found);
        StudyFindings[] all = [.. found.SelectMany(study => study.Targets).Where(findings => findings.Sittings > 0)];
        if (all.Length == 0)
        {
            return [];
        }

        var known = all.Where(findings => findings.Core.IsKnown).Select(findings => findings.Core.QuietShare).ToList();
        var brought = all.Any(findings => findings.Core.IsAdjusted) ? ", to which all were brought where they are few" : "";
        var twins = all.SelectMany(findings => findings.Inputs).Select(input => input.ResolutionShare).Where(double.IsFinite).ToList();
        var speed = all.Select(findings => findings.Metronome.SpreadShare).Where(double.IsFinite).ToList();
        var isTogether = all.Any(findings => findings.Sittings > 1 && findings.Inputs.SelectMany(input => input.Cells)
            .Any(cell => cell.Contrast is not null));
        string[] parts =
        [
            .. run.Targets.Count > 1 ? (string[])[run.Machine.Processor] :
            [
                $"{run.Environment.Runtime} {run.Environment.Architecture}", run.Machine.Processor,
                run.Environment.IsOptimized ? "optimised build" : "DEBUG build", .. run.Environment.Switches,
            ],
            Sittings([.. all.Select(findings => findings.Sittings)]),
            .. known.Count > 0 ? [$"the core to itself beside {Shares(known)} of the readings{brought}"] : (string[])[],
            .. speed.Count > 0 ? [$"speed within {Quantity.Percent(speed.Max())}"] : (string[])[],
            .. twins.Count > 0 ? [$"twins within {Quantity.Percent(twins.Max())}"] : (string[])[],
            string.Create(CultureInfo.InvariantCulture, $"seed {run.Plan.Seed}"),
            .. isTogether
                ? [$"a table's factors hold together at {Quantity.Small(100 * all.Max(findings => findings.IntervalLevel))} %, "
                    + "each time by itself"] : (string[])[],
        ];
        return [string.Join(" · ", parts), .. OfRun(all)];
    }

    /// <summary>The blocks that hold something of these studies, by the words they are asked for with.</summary>
    /// <param name="found">What was found of the run's studies.</param>
    public static IReadOnlyList<string> MoreToShow(IReadOnlyList<StudyOnTargets> found)
    {
        ArgumentNullException.ThrowIfNull(found);
        StudyFindings[] all = [.. found.SelectMany(study => study.Targets)];
        bool AnyInput(Func<InputFindings, bool> has) => all.Any(findings => findings.Inputs.Any(has));
        bool Has(Block block) => block switch
        {
            Block.Inputs => all.Any(findings => findings.Inputs.Count > 1),
            Block.Growth => all.Any(findings => findings.Growth.Count > 0),
            Block.Dials => all.Any(findings => findings.Dials.Count > 0),
            Block.Uses => AnyInput(input => input.BreakEvens.Count > 0),
            Block.Stages => AnyInput(input => input.Cells.Any(cell => cell.Stages.Count > 0)),
            Block.Limits => AnyInput(input => input.Limits.Count > 0),
            Block.Payoff => all.Any(findings => findings.Study.Rate is not null),
            Block.Caveats => all.Any(findings => findings.Caveats.Count > 0),
            _ => true,
        };
        return [.. Blocks.Words.Where(word => Has(Blocks.ByWord[word]))];
    }

    // Told once, with the studies it was found in.
    private static IEnumerable<string> OfRun(StudyFindings[] all)
        => from findings in all
           from caveat in findings.Caveats
           where caveat.IsOfRun
           group (findings.Study.Name, caveat.Evidence) by caveat.Name into same
           let studies = same.Select(told => told.Name).Distinct().ToList()
           let of = studies.Count == all.Length ? "" : $", {Wording.Some(studies, StudiesNamed)}"
           let isOfFirst = same.Select(told => told.Evidence).Distinct().Count() > 1
           select $"caveat {same.Key}{of}: {same.First().Evidence}{(isOfFirst ? " (figures of the first)" : "")}";

    private static FigureRow Row(StudyFindings findings)
    {
        var words = new StudyWords(findings);
        int[] taken = [.. Enumerable.Range(0, findings.Study.Variants.Count)
            .Where(row => DecisionSentences.Remark(words, row) is not null)];
        var ahead = findings.Decisions.Select(decision => decision.Row).Distinct().ToArray();
        // From the smallest size to the largest.
        string[] names = [.. taken.OrderBy(row => DecisionSentences.Remark(words, row) == DecisionSentences.TakeAbove)
            .Select(row => findings.Study.Variants[row].Variant)];
        var compared = findings.Inputs.SelectMany(input => input.Cells).Where(cell => cell.Contrast is not null).ToList();
        var unclear = compared.Count(cell => cell.Contrast!.Verdict == Verdict.Unclear);
        var doubts = OverviewReporter.Doubts(findings).Count(doubt => !doubt.IsNote);
        string[] open =
        [
            // Its row stands among others of another state.
            .. findings.Core.IsOfSharedCore ? ["on a shared core"] : (string[])[],
            .. unclear > 0 ? [Wording.Invariant($"{unclear} unclear")] : (string[])[],
            .. doubts > 0 ? [Wording.Invariant($"{doubts} caveat{(doubts == 1 ? "" : "s")}")] : (string[])[],
        ];
        return new FigureRow(findings.Study.Name,
        [
            names.Length > 0 ? names.Length <= 3 ? string.Join(", then ", names) : Wording.Some(names, 2)
                : ahead.Length > 0 ? $"open: {Wording.Some(ahead.Select(row => findings.Study.Variants[row].Variant), 2)} ahead"
                    : "nothing",
            Gain(findings, names.Length > 0 ? taken : ahead), BytesShare(findings, names.Length > 0 ? taken : ahead),
                string.Join(", ", open),
        ]);
    }

    // From the least to the most over the inputs, of the one that is taken there.
    private static string Gain(StudyFindings findings, int[] taken)
    {
        var best = findings.Inputs.Select(input => Best(input, taken)?.Contrast?.TimeRatio).OfType<Interval>()
            .Where(ratio => double.IsFinite(ratio.Estimate)).OrderByDescending(ratio => ratio.Estimate).ToList();
        if (best.Count == 0)
        {
            return "";
        }

        var (least, most) = (Quantity.FactorOnly(best[0]), Quantity.FactorOnly(best[^1]));
        // The sign of both is written once.
        return least[0] == most[0] && least != most ? $"{least} to {most[2..]}" : Quantity.Range(least, most);
    }

    private static string BytesShare(StudyFindings findings, int[] taken)
    {
        var shares = new List<double>();
        foreach (var input in findings.Inputs)
        {
            var baseline = input.Cells.FirstOrDefault(cell => cell.Variant.IsBaseline && cell.Failure is null);
            if (Best(input, taken) is { } best && baseline is not null && best != baseline)
            {
                shares.Add(best.AllocatedBytesPerCall == baseline.AllocatedBytesPerCall ? 1
                    : best.AllocatedBytesPerCall / baseline.AllocatedBytesPerCall);
            }
        }

        return shares.Count == 0 ? ""
            : shares.TrueForAll(share => share == 1) ? "the same"
            : shares.Exists(double.IsInfinity) ? "more than none"
            : Quantity.Range(Quantity.Percent(shares.Min()), Quantity.Percent(shares.Max()));
    }

    private static CellFindings? Best(InputFindings input, int[] taken)
        => input.Cells.Where(cell => taken.Contains(cell.Row) && cell.Failure is null && cell.NanosecondsPerCall.IsKnown)
            .MinBy(cell => cell.NanosecondsPerCall.Estimate);

    private static string Sittings(int[] counts)
        => $"{Quantity.Range(Quantity.Count(counts.Min()), Quantity.Count(counts.Max()))} sitting{(counts.Max() == 1 ? "" : "s")} a study";

    private static string Shares(List<double> shares) => Quantity.Range(Quantity.Percent(shares.Min()), Quantity.Percent(shares.Max()));
}
