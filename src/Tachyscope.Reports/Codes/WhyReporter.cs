using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Reasons;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Code.Listings;
using Tachyscope.Code.Reasons;
using Tachyscope.Code.Variants;
using Tachyscope.Measuring;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Codes;

/// <summary>Puts into words what may make one variant slower than another, and what measuring says of it. Pure.</summary>
public static class WhyReporter
{
    /// <summary>What may be behind each variant's difference to the baseline.</summary>
    /// <param name="codes">The code of the variants, the baseline's among them.</param>
    /// <param name="findings">The study as it was measured.</param>
    /// <param name="probes">Switches that were tried, each with the code and the study measured under it; null when none was.</param>
    public static IReadOnlyList<(Tone Tone, string Text)> Of(
        IReadOnlyList<VariantCode> codes, StudyFindings findings,
        IReadOnlyList<(Probe Probe, IReadOnlyList<VariantCode> Codes, StudyFindings Findings)>? probes)
    {
        ArgumentNullException.ThrowIfNull(codes);
        ArgumentNullException.ThrowIfNull(findings);
        List<(Tone Tone, string Head, string Text)> told = [];
        foreach (var code in codes)
        {
            if (ContrastOf(findings, code.Name) is { } contrast
                && codes.FirstOrDefault(other => other.Name == findings.Study.Variants[contrast.Other].Name) is { Tree: not null } baseline
                && code is { Tree: not null, Facts: not null } && baseline.Facts is not null)
            {
                told.AddRange(Told(code, baseline, contrast, Cycles(findings, code, baseline), probes));
            }
        }

        // What is said of several is said once.
        return [.. told.GroupBy(line => (line.Tone, line.Text))
            .Select(same => (same.Key.Tone, $"{string.Join("; ", same.Select(line => line.Head))}: {same.Key.Text}"))];
    }

    private static IEnumerable<(Tone Tone, string Head, string Text)> Told(
        VariantCode code, VariantCode baseline, Contrast contrast, string cycles,
        IReadOnlyList<(Probe Probe, IReadOnlyList<VariantCode> Codes, StudyFindings Findings)>? probes)
    {
        var head = $"{code.Name}, {SpeedText.Factor(contrast)} of {baseline.Name}{cycles}";
        if (contrast.Verdict is not (Verdict.Faster or Verdict.Slower))
        {
            yield return (Tone.Aside, head, "no difference is told, so that nothing is to be explained");
            yield break;
        }

        var (slower, faster) = contrast.Verdict == Verdict.Slower ? (code, baseline) : (baseline, code);
        var reasons = ReasonFinder.Between(slower.Tree!, faster.Tree!);
        if (reasons.Count == 0)
        {
            yield return (Tone.Open, head, CodeFindings.Between(slower, faster) == CodeRelation.Same
                ? "it is the same code; look at data, memory and place (--copies, --apart, another input)"
                : "what can be counted does not explain it; they may go round their loops more or less often, or wait for data and memory");
        }

        foreach (var reason in reasons)
        {
            var (verdict, words) = Tested(reason, code, slower, faster, contrast.TimeRatio, probes);
            yield return (verdict == ProbeVerdict.NotSupported ? Tone.Open : Tone.Aside, head,
                $"perhaps since {slower.Name} {Words(reason, faster.Name)} – {words}");
        }
    }

    private static (ProbeVerdict Verdict, string Words) Tested(
        Reason reason, VariantCode code, VariantCode slower, VariantCode faster, Interval plain,
        IReadOnlyList<(Probe Probe, IReadOnlyList<VariantCode> Codes, StudyFindings Findings)>? probes)
    {
        var best = (Verdict: ProbeVerdict.NotTested,
            Words: probes is null ? "not tested; code --probe does" : "not tested, as no switch of the runtime takes it away");
        foreach (var (probe, codes, findings) in (probes ?? []).Where(probe => probe.Probe.Kind == reason.Kind))
        {
            if (Tree(codes, slower) is { } slowerProbed && Tree(codes, faster) is { } fasterProbed
                && ContrastOf(findings, code.Name) is { } probed
                && probe.TakesAway(slower.Tree!, faster.Tree!, slowerProbed, fasterProbed))
            {
                var verdict = ProbeJudge.Of(plain, probed.TimeRatio);
                var words = $"{Words(verdict)}: with {probe.Switch}={probe.Value}, {Left(probe, slowerProbed, fasterProbed)}, "
                    + $"it is {Quantity.Factor(probed.TimeRatio)}";
                best = verdict >= best.Verdict && best.Verdict != ProbeVerdict.Supported ? (verdict, words) : best;
            }
        }

        return best;

        static CodeTree? Tree(IReadOnlyList<VariantCode> codes, VariantCode code)
            => codes.FirstOrDefault(other => other.Name == code.Name)?.Tree;
    }

    private static string Left(Probe probe, CodeTree slower, CodeTree faster)
        => probe.IsGone(slower, faster) ? "which takes that away" : "which takes part of that away";

    private static string Words(ProbeVerdict verdict) => verdict switch
    {
        ProbeVerdict.Supported => "supported",
        ProbeVerdict.NotSupported => "not supported",
        _ => "open",
    };

    // In cycles of the metronome, whose links take a known number of them at whatever speed the processor runs.
    private static string Cycles(StudyFindings findings, VariantCode code, VariantCode baseline)
    {
        var cycle = findings.NanosecondsPerLink / Metronome.CyclesPerLink;
        return double.IsFinite(cycle) && cycle > 0 ? $" ({Of(code)} cycles a call, and {Of(baseline)}{Chains(code, baseline)})" : "";

        string Of(VariantCode which) => InputOf(findings)?.Cells.FirstOrDefault(cell => cell.Variant.Name == which.Name) is { } cell
            ? Quantity.Whole(cell.NanosecondsPerCall.Estimate / cycle) : Quantity.Absent;
    }

    // What no processor does faster, however much it does at once.
    private static string Chains(VariantCode code, VariantCode baseline)
        => code.Chain is { IsOfCall: true } || baseline.Chain is { IsOfCall: true }
            ? $"; by its chain of results at least {Least(code)}, and {Least(baseline)}" : "";

    private static string Least(VariantCode code)
        => code.Chain is { IsOfCall: true } chain ? Quantity.Small(chain.Cycles) : Quantity.Absent;

    // On the last input: the largest, as a rule.
    private static Contrast? ContrastOf(StudyFindings findings, string name)
        => InputOf(findings)?.Cells.FirstOrDefault(cell => cell.Variant.Name == name)?.Contrast;

    private static InputFindings? InputOf(StudyFindings findings)
        => findings.Inputs.LastOrDefault(input => input.Cells.Any(cell => cell.Contrast is not null));

    private static string Words(Reason reason, string faster) => reason.Kind switch
    {
        ReasonKind.NotFolded => $"is computed when it runs, and {faster} was when it was compiled",
        ReasonKind.NoVectors => Wording.Invariant($"computes number by number, and {faster} {reason.Faster} bits at once"),
        ReasonKind.NarrowerVectors => Wording.Invariant($"computes {reason.Slower} bits at once, and {faster} {reason.Faster}"),
        ReasonKind.DeeperLoops => Wording
            .Invariant($"has {reason.Slower} loops within each other, and {faster} {(reason.Faster == 0 ? "none" : reason.Faster)}"),
        ReasonKind.Allocations => $"allocates{Against(reason, faster)}",
        ReasonKind.IndirectCalls => $"calls what is only found when the call is made{Against(reason, faster)}",
        ReasonKind.Calls => $"makes calls that are not inlined{Against(reason, faster)}",
        ReasonKind.Divisions => $"divides or takes roots{Against(reason, faster)}",
        ReasonKind.Atomics => $"keeps memory in step with other threads{Against(reason, faster)}",
        ReasonKind.TypeChecks => $"looks at the type of objects{Against(reason, faster)}",
        ReasonKind.WriteBarriers => $"tells the collector of references it stores{Against(reason, faster)}",
        ReasonKind.Copies => $"copies values into its own frame{Against(reason, faster)}",
        ReasonKind.BoundsChecks => $"compares indices with lengths{Against(reason, faster)}",
        ReasonKind.Branches => $"decides by jumps, which the processor has to guess{Against(reason, faster)}",
        _ => Wording.Invariant($"has more to do each time round ({reason.Slower} instructions, and {faster} {reason.Faster})"),
    };

    private static string Against(Reason reason, string faster)
        => $" (in {Places(reason.Slower)} of what runs most often, and {faster} in {(reason.Faster == 0 ? "none" : Count(reason.Faster))})";

    private static string Places(int count) => $"{Count(count)} place{(count == 1 ? "" : "s")}";

    private static string Count(int count) => count.ToString(CultureInfo.InvariantCulture);
}
