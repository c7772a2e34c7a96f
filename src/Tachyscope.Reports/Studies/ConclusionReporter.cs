using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Stages;
using Tachyscope.Analysis.Uses;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Says in plain sentences what a study's intervals support, and nothing more. Pure.</summary>
internal sealed class ConclusionReporter
{
    private const int NamesListed = 3;
    private const int PlacesListed = 3;
    private const double LeastStageShare = 0.5;

    private readonly StudyFindings _findings;
    private readonly StudyDescription _study;
    private readonly int?[] _threads;

    private ConclusionReporter(StudyFindings findings)
    {
        (_findings, _study) = (findings, findings.Study);
        _threads = [.. _study.Variants.Where(row => row.Part != VariantPart.Prepare).Select(row => row.Loop.Threads).Distinct()];
    }

    /// <summary>The sentences, each whole by itself.</summary>
    public static IReadOnlyList<string> Conclude(StudyFindings findings)
    {
        var reporter = new ConclusionReporter(findings);
        return [.. reporter.Sentences().Select(sentence => $"{char.ToUpperInvariant(sentence[0])}{sentence[1..]}.")];
    }

    /// <summary>Where a ranking turns round.</summary>
    public static string Sentence(Analysis.Rankings.Flip flip, StudyDescription study)
        => $"the order is not the same everywhere: {Name(study, flip.Variant)} is faster than {Name(study, flip.Other)} on {Places(flip.FasterAt)}, and slower on {Places(flip.SlowerAt)}"
            + (flip.Pairs > 1 ? Wording.Invariant($"; so it is with {flip.Pairs - 1} other pair{(flip.Pairs == 2 ? "" : "s")}") : "");

    private static string Places(IEnumerable<string> labels) => Wording.Some(labels.Select(Wording.Quoted), PlacesListed);

    private IEnumerable<string> Sentences()
        => _findings.Sittings == 0 ? ["nothing was measured"]
            : _threads.SelectMany(threads => Which(threads).Select(sentence => threads is null ? sentence : $"with {Wording.Threads(threads)}, {sentence}"))
                .Concat(Chains()).Concat(Growth()).Concat(Dials()).Concat(BreakEvens())
                .Concat(_findings.Flip is { } flip && _findings.Growth.Count == 0 ? [Sentence(flip, _study)] : [])
                .Concat(Stages()).Concat(Allocation()).Concat(Limits()).Concat(Unclear());

    private string Name(int row) => Wording.Name(_study.Variants[row] with { Name = WithoutThreads(_study.Variants[row]) });

    private static string Name(StudyDescription study, string row)
        => Wording.Name(study.Variants.First(variant => WithoutThreads(variant) == row) with { Name = row });

    private static string WithoutThreads(VariantDescription row) => row.Loop.Threads is null ? row.Name : row.Name[..row.Name.LastIndexOf(',')];

    private string Names(IEnumerable<int> rows) => Wording.Some(rows.Select(Name), NamesListed);

    private IEnumerable<string> Which(int? threads)
    {
        var slices = _findings.Growth.Where(growth => growth.Threads == threads && growth.Bands.Count > 0).ToList();
        if (slices.Count > 0 && _study.Inputs.All(input => input.Sizes.Count == 1))
        {
            return slices.Select(Bands);
        }

        var leading = _findings.Inputs.Select(input => (Input: input, Leaders: Leaders(input, threads))).Where(found => found.Leaders.Count > 0).ToList();
        var groups = leading.GroupBy(found => string.Join(',', found.Leaders.Order())).ToList();
        return groups.Select(group => Fastest([.. group.Select(found => found.Input)], group.First().Leaders, groups.Count == 1));
    }

    // The fastest, and what nothing separates from it; the fastest by its estimate first.
    private static List<int> Leaders(InputFindings input, int? threads)
        => [.. input.Cells.Where(cell => cell.Place is { First: 1 } && cell.Variant.Loop.Threads == threads)
            .OrderBy(cell => cell.NanosecondsPerCall.Estimate).Select(cell => cell.Row)];

    private string Fastest(List<InputFindings> inputs, List<int> leaders, bool isEverywhere)
    {
        var place = _findings.Inputs.Count == 1 ? "" : isEverywhere ? " on every input" : $" on {Places(inputs.Select(input => input.Input.Label))}";
        var ranked = inputs.Max(input => input.Cells.Count(cell => cell.Place is not null && cell.Variant.Loop.Threads == _study.Variants[leaders[0]].Loop.Threads));
        if (leaders.Count == ranked)
        {
            return $"nothing separates {Names(leaders)}{place}";
        }

        var baseline = _study.Reference(leaders[0]);
        if (leaders.Count == 1)
        {
            return leaders[0] == baseline ? $"nothing is faster than the baseline, {Name(leaders[0])},{place}".TrimEnd(',')
                : $"{(IsAlone(inputs, leaders[0]) ? $"{Name(leaders[0])} is fastest" : $"nothing is faster than {Name(leaders[0])}")}{place}{Gain(inputs, leaders[0], baseline)}";
        }

        return baseline is { } first && leaders.Contains(first)
            ? $"nothing is faster than the baseline, {Name(first)}{place}; {Names(leaders.Where(row => row != first))} {(leaders.Count == 2 ? "is" : "are")} not told apart from it"
            : $"nothing separates {Names(leaders)}, the fastest{place}{(leaders.TrueForAll(row => IsFaster(inputs, row, baseline)) && baseline is { } slow ? $"; each is faster than {Name(slow)}" : "")}";
    }

    // Faster than every other, not only slower than none.
    private static bool IsAlone(List<InputFindings> inputs, int row)
        => inputs.TrueForAll(input => input.Cells.Any(cell => cell.Row == row && cell.Place is { Last: 1 }));

    private static bool IsFaster(List<InputFindings> inputs, int row, int? baseline)
        => baseline is { } other && inputs.TrueForAll(input => Compared(input, row, other)?.Verdict == Verdict.Faster);

    private string Gain(List<InputFindings> inputs, int row, int? baseline)
    {
        if (baseline is not { } other)
        {
            return "";
        }

        var pairs = inputs.Select(input => Compared(input, row, other)).OfType<PairContrast>().ToList();
        return pairs.Count == 0 || pairs.Exists(pair => pair.Verdict != Verdict.Faster) ? ""
            : $": it {Wording.IsOrTakes(pairs.Min(pair => pair.TimeRatio.Lower), pairs.Max(pair => pair.TimeRatio.Upper), Name(other))}";
    }

    // As the tables have it where they compare these two; null where one of them cannot be told from nothing.
    private static PairContrast? Compared(InputFindings input, int row, int other)
        => input.Cells.FirstOrDefault(cell => cell.Row == row)?.Contrast is { } contrast && contrast.Other == other
            ? contrast.IsBound ? null : new PairContrast(row, other, contrast.TimeRatio, contrast.Verdict)
            : input.Pairs.Where(pair => pair.Row == row && pair.Other == other).Concat(input.Pairs.Where(pair => pair.Row == other && pair.Other == row).Select(pair => pair.Reversed()))
                .Select(pair => (PairContrast?)pair).FirstOrDefault();

    private string Bands(GrowthFindings growth)
    {
        var (first, last) = (growth.Bands[0], growth.Bands[^1]);
        var largest = _findings.Inputs.First(input => input.Input.Sizes[0].Value == growth.Sizes[^1] && input.Input.Sizes[0].Axis == growth.Axis);
        var gain = _study.Reference(last.Row) is { } baseline && baseline != last.Row && Compared(largest, last.Row, baseline) is { Verdict: Verdict.Faster } pair
            ? $"; at {largest.Input.Label} {Name(last.Row)} {Wording.IsOrTakes(pair.TimeRatio.Lower, pair.TimeRatio.Upper, Name(baseline))}"
            : "";
        if (growth.Bands.Count == 1)
        {
            var range = $"from {Quantity.Count(growth.Sizes[0])} to {Quantity.Count(growth.Sizes[^1])} {growth.Axis}";
            return first.Ties.Count > 0 ? $"nothing is faster than {Name(first.Row)} {range}, and {Names(first.Ties)} {(first.Ties.Count == 1 ? "is" : "are")} not told apart from it{gain}"
                : first.IsFastest ? $"{Name(first.Row)} is fastest {range}{gain}"
                : $"nothing is faster than {Name(first.Row)} {range}{gain}";
        }

        var advice = growth.Bands.Select((band, index) => index + 1 == growth.Bands.Count
            ? $"above, {Taken(band)}"
            : $"up to {(band.Until is { } until ? Wording.About(until) : $"somewhere between {Quantity.Count(band.LastSize)} and {Quantity.Count(growth.Bands[index + 1].FirstSize)}")} {growth.Axis}, {Taken(band)}");
        return $"{string.Join("; ", advice)}{gain}";
    }

    private string Taken(SizeBand band) => $"take {Wording.List([Name(band.Row), .. band.Ties.Take(NamesListed).Select(Name)], "or")}";

    private IEnumerable<string> Chains()
        => from input in _findings.Inputs
           from chain in input.Chains
           where chain.Verdict is Verdict.Faster or Verdict.Slower
           let last = input.Cells.Last(cell => cell.Contrast is not null && cell.Variant.Loop.Threads == _study.Variants[chain.Other].Loop.Threads && (cell.Variant.Part == VariantPart.Prepare) == (_study.Variants[chain.Other].Part == VariantPart.Prepare)).Row
           select chain.Verdict == Verdict.Faster
               ? $"from first to last on {input.Input.Label}, {Name(last)} {Wording.IsOrTakes(chain.TimeRatio.Lower, chain.TimeRatio.Upper, Name(chain.Other))}"
               : $"from first to last on {input.Input.Label}, {Name(chain.Other)} {Wording.IsOrTakes(1 / chain.TimeRatio.Upper, 1 / chain.TimeRatio.Lower, Name(last))}";

    private IEnumerable<string> Growth()
        => _findings.Growth.Where(growth => growth.Where is null && growth.Threads == _threads[0] && growth.Variants.Any(variant => variant.Law is not null)).Select(growth =>
            $"over {growth.Axis}, " + Wording.List(growth.Variants.Where(variant => variant.Law is not null && _study.Variants[variant.Row].Settings.Count == 0)
                .GroupBy(variant => variant.Law!.Law)
                .OrderBy(law => law.Key)
                .Select(law => law.Key switch
                {
                    GrowthLaw.Constant => $"{Names(law.Select(variant => variant.Row))} {(law.Count() == 1 ? "takes" : "take")} about the same at every size",
                    GrowthLaw.None => $"{Names(law.Select(variant => variant.Row))} {(law.Count() == 1 ? "follows" : "follow")} no law tried",
                    _ => $"{Names(law.Select(variant => variant.Row))} {(law.Count() == 1 ? "grows" : "grow")} as {Wording.Law(law.First().Law!)}",
                })));

    private IEnumerable<string> Dials()
    {
        foreach (var dial in _findings.Dials.Where(dial => dial.Threads == _threads[0]))
        {
            var worst = dial.Inputs.SelectMany(input => input.Settings.Where(setting => !setting.IsTied).Select(setting => (input.Input, Setting: setting)))
                .OrderByDescending(found => found.Setting.TimeRatio.Lower).Select(found => ((InputDescription, Analysis.Dials.SettingFindings)?)(found.Input, found.Setting)).FirstOrDefault();
            var cost = worst is var (input, setting) ? $"; {Wording.Settings(setting.Settings)} takes at least {Quantity.Percent(setting.TimeRatio.Lower - 1)} more on {input.Label}" : "";
            var best = dial.BestEverywhere;
            yield return best.Count == dial.Inputs[0].Settings.Count && worst is null
                ? $"nothing separates the settings of {Wording.Quoted(dial.Variant)}"
                : best.Count > 0
                    ? $"{Wording.List(best.Take(NamesListed).Select(Wording.Settings), "or")} serves {Wording.Quoted(dial.Variant)} {(dial.Inputs.Count == 1 ? "best" : "best, or as well as the best, on every input")}{cost}"
                    : $"the best setting of {Wording.Quoted(dial.Variant)} moves with the input: {Wording.Some(dial.Inputs.Select(on => $"{Wording.Settings(on.Best.Settings)} on {on.Input.Label}"), PlacesListed)}{cost}";
        }
    }

    private IEnumerable<string> BreakEvens()
        => _findings.Inputs.SelectMany(input => input.BreakEvens
                .Where(pair => _study.Variants[pair.Other].IsBaseline && pair.Answer != BreakEvenAnswer.Unclear)
                .Select(pair => (input.Input.Label, Pair: pair)))
            .GroupBy(found => (found.Pair.Row, found.Pair.Other))
            .Select(pair => $"against {Name(pair.Key.Other)}, preparing {Wording.Quoted(_study.Variants[pair.Key.Row].Variant)} "
                + string.Join("; ", pair.GroupBy(found => found.Pair.Answer).OrderByDescending(answers => answers.Key).Select(answers => PaidOff(answers.Key, [.. answers]))));

    private string PaidOff(BreakEvenAnswer answer, List<(string Label, BreakEven Pair)> found)
    {
        var on = _findings.Inputs.Count == 1 ? "" : $" on {Places(found.Select(pair => pair.Label))}";
        return answer switch
        {
            BreakEvenAnswer.Never => $"never pays{on}",
            BreakEvenAnswer.Always => $"pays at the first use{on}",
            _ when _findings.Inputs.Count == 1 => $"pays after {AnswerReporter.UsesRange(found[0].Pair)} uses",
            _ => $"pays after {Wording.List(found.Select((pair, index) => $"{AnswerReporter.UsesRange(pair.Pair)} {(index == 0 ? "uses " : "")}on {Wording.Quoted(pair.Label)}"))}",
        };
    }

    private IEnumerable<string> Stages()
        => _findings.Inputs.SelectMany(input => input.Cells
                .Where(cell => cell.Contrast is { Verdict: Verdict.Faster or Verdict.Slower, Stages.Count: > 1 } contrast && contrast.Stages[0].Stage is not null && LeastShare(contrast.Stages[0]) >= LeastStageShare)
                .Select(cell => (input.Input.Label, cell.Row, cell.Contrast!.Other, First: cell.Contrast.Stages[0])))
            .GroupBy(found => (found.Row, found.Other, found.First.Stage))
            .Select(group => (group.Key, Labels: group.Select(found => found.Label).ToList(), Least: group.Min(found => LeastShare(found.First))))
            .Select(found => $"{found.Key.Stage} makes {(found.Least >= 1 ? "all" : $"at least {Quantity.Percent(found.Least)}")} of the difference between {Name(found.Key.Row)} and {Name(found.Key.Other)}"
                + (found.Labels.Count == _findings.Inputs.Count ? "" : $" on {Places(found.Labels)}"));

    // By the end of its interval that is nearer to nothing.
    private static double LeastShare(StageDifference stage)
        => stage.SavedNanosecondsPerCall is var saved && saved.IsBounded
            ? stage.ShareOfDifference * (saved.Estimate > 0 ? saved.Lower : saved.Upper) / saved.Estimate
            : double.NaN;

    private string On(InputFindings input) => _findings.Inputs.Count == 1 ? "" : $" on {input.Input.Label}";

    private IEnumerable<string> Allocation()
    {
        var allocating = _findings.Inputs.SelectMany(input => input.Cells
            .Where(cell => cell.Contrast is { Verdict: Verdict.Faster or Verdict.Slower, Held.TimeRatio.IsKnown: true } contrast
                && (cell.AllocatedBytesPerCall > 0 || input.Cells.Any(other => other.Row == contrast.Other && other.AllocatedBytesPerCall > 0)))
            .Select(cell => (Input: input, Cell: cell, Held: cell.Contrast!.Held!))).ToList();
        foreach (var (input, cell, held) in allocating.Where(found => found.Held.IsChanged))
        {
            var difference = $"difference between {Name(cell.Row)} and {Name(cell.Contrast!.Other)}{On(input)}";
            yield return held.ShareRemaining < 1
                ? $"with the collector kept out, {Quantity.Percent(Math.Max(0, held.ShareRemaining))} of the {difference} remains; the rest is the collector's"
                : $"with the collector kept out, the {difference} is larger still: it is not the collector's";
        }

        if (allocating.Exists(found => !found.Held.IsChanged))
        {
            yield return allocating.TrueForAll(found => !found.Held.IsChanged)
                ? "with the collector kept out, no difference between variants that allocate changes by more than the intervals allow"
                : "no other difference between variants that allocate changes by more than the intervals allow";
        }
    }

    private IEnumerable<string> Limits()
    {
        var limits = _findings.Inputs.SelectMany(input => input.Limits.Select(limit => (Input: input, Limit: limit))).ToList();
        var missed = limits.Where(found => found.Limit.State is LimitState.Broken or LimitState.Unsure)
            .GroupBy(found => (found.Limit.Row, found.Limit.Quantity, found.Limit.Allowed, found.Limit.State))
            .OrderByDescending(group => group.Max(found => found.Limit.ShareUsed)).ToList();
        foreach (var group in missed.Take(NamesListed))
        {
            var worst = group.MaxBy(found => found.Limit.Used.Upper).Limit;
            var on = group.Count() == _findings.Inputs.Count ? _findings.Inputs.Count == 1 ? "" : " on every input" : $" on {Places(group.Select(found => found.Input.Input.Label))}";
            var used = $"{AnswerReporter.Amount(worst.Quantity, worst.Used.Estimate)} of the {AnswerReporter.Amount(worst.Quantity, worst.Allowed)} allowed";
            yield return worst.State == LimitState.Broken
                ? $"{Name(worst.Row)} breaks its limit of {AnswerReporter.Word(worst.Quantity)}{on}: {used}"
                : $"{Name(worst.Row)} is not shown to keep its limit of {AnswerReporter.Word(worst.Quantity)}{on}: {used}, and up to {AnswerReporter.ShareText(worst)} of it by the interval";
        }

        if (missed.Count > NamesListed)
        {
            yield return Wording.Invariant($"{missed.Count - NamesListed} more {(missed.Count == NamesListed + 1 ? "limit is" : "limits are")} not kept");
        }

        if (limits.Exists(found => found.Limit.State == LimitState.Unknown))
        {
            yield return "whether limits are kept cannot be told from a single sitting";
        }

        if (limits.Count > 0 && limits.TrueForAll(found => found.Limit.State == LimitState.Kept))
        {
            var most = limits.MaxBy(found => found.Limit.ShareUsed);
            yield return $"every limit is kept; {Name(most.Limit.Row)} uses most of its own, at most {AnswerReporter.ShareText(most.Limit)} of {AnswerReporter.Amount(most.Limit.Quantity, most.Limit.Allowed)}{On(most.Input)}";
        }
    }

    private IEnumerable<string> Unclear()
    {
        var all = _findings.Inputs.SelectMany(input => input.Cells).Select(cell => cell.Contrast).OfType<Contrast>().ToList();
        var unclear = all.Where(contrast => contrast.Verdict == Verdict.Unclear && !contrast.IsBound).ToList();
        if (unclear.Count == 0)
        {
            yield break;
        }

        var count = Wording.Invariant($"{unclear.Count} of {all.Count} comparison{(all.Count == 1 ? "" : "s")} {(unclear.Count == 1 ? "is" : "are")} unclear");
        var needed = unclear.Where(contrast => contrast.SittingsToDecide is not null).Select(contrast => contrast.SittingsToDecide!.Value).Order().ToList();
        if (needed.Count == 0)
        {
            yield return _findings.Sittings < 2 ? $"{count}, since an interval needs two sittings" : $"{count}, and not even a thousand sittings would settle {(unclear.Count == 1 ? "it" : "them")}: too near to what two copies of the baseline differ by, or to the margin";
            yield break;
        }

        var sittings = _findings.Sittings + _findings.SittingsApart + _findings.SittingsHeld;
        var settled = needed.Count == unclear.Count ? unclear.Count == 1 ? "it" : "all of them" : Wording.Invariant($"{needed.Count} of them");
        var wait = Quantity.Wait(TimeSpan.FromSeconds(_findings.Seconds / sittings * needed[^1]));
        yield return Wording.Invariant($"{count}; about {needed[^1]} sittings ({wait} for this study) would probably settle {settled}");
    }
}
