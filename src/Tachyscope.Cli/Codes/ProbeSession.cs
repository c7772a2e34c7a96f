using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Commands;
using Tachyscope.Code.Reasons;
using Tachyscope.Code.Variants;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Codes;

/// <summary>
/// Tests what the code suggests: finds the runtime switches that take a reason away, and measures the study as it is and under each.
/// </summary>
/// <param name="project">The study project.</param>
/// <param name="look">Looks at the code.</param>
/// <param name="preparation">Makes targets ready.</param>
/// <param name="display">Who watches.</param>
internal sealed class ProbeSession(string project, CodeLook look, Preparation preparation, RunDisplay display)
{
    // What is measured at once shares the time allowed.
    private const int MostProbes = 3;

    private static readonly AnalysisOptions s_contrasts = new() { AreContrastsOnly = true };

    /// <summary>What was measured, and what of it under which switch; or why nothing was.</summary>
    public async Task<ProbeOutcome> RunAsync(
        PreparedTarget plain, IReadOnlyList<VariantCode> codes, RunPlan plan, CancellationToken cancellation)
    {
        List<(IReadOnlyList<Probe> Probes, PreparedTarget Target, IReadOnlyList<VariantCode> Codes)> probed = [];
        try
        {
            foreach (var same in Suggested(codes).GroupBy(probe => (probe.Switch, probe.Value)))
            {
                var target = await preparation.MakeAsync(project, plain.Target with
                {
                    Name = $"{same.Key.Switch}={same.Key.Value}",
                    Switches = new Dictionary<string, string>(plain.Target.Switches) { [same.Key.Switch] = same.Key.Value },
                }, cancellation);
                var found = target.Starter is null || probed.Count == MostProbes ? [] : (await look.AtAsync(target, cancellation)).Codes;
                var telling = same.Where(probe => IsTelling(probe, codes, found)).ToList();
                if (telling.Count == 0)
                {
                    target.Dispose();
                    continue;
                }

                probed.Add((telling, target, found));
            }

            return await MeasureAsync(plain, codes, plan, probed, cancellation);
        }
        finally
        {
            probed.ForEach(probe => probe.Target.Dispose());
        }
    }

    private async Task<ProbeOutcome> MeasureAsync(
        PreparedTarget plain, IReadOnlyList<VariantCode> codes, RunPlan plan,
        List<(IReadOnlyList<Probe> Probes, PreparedTarget Target, IReadOnlyList<VariantCode> Codes)> probed, CancellationToken cancellation)
    {
        PreparedTarget[] targets = [plain, .. probed.Select(probe => probe.Target)];
        var outcome = await display.WhileMeasuringAsync(progress => new Experiment(
            new TargetStarters([.. targets.Select(target => target.Starter!)]), plan, preparation.Surroundings(progress) with
            {
                IsCellMeant = (study, variant, input) => input == study.Inputs.Count - 1
                    && (study.Variants[variant].IsBaseline || codes.Any(code => code.Name == study.Variants[variant].Name)),
            })
        {
            Targets = targets,
        }.RunAsync(cancellation));
        if (outcome.Run is not { Studies: [var study, ..] } run)
        {
            return new ProbeOutcome { Problems = outcome.Refusals };
        }

        var found = TargetAnalyst.Examine(run, study, s_contrasts).Targets;
        return new ProbeOutcome
        {
            Plain = found[0],
            Probed = [.. probed.SelectMany((probe, index) => probe.Probes.Select(one => (one, probe.Codes, found[index + 1])))],
            Problems = [.. study.Failures.Select(failure => failure.Reason).Distinct()],
        };
    }

    // Whichever of a variant and the baseline turns out to be the slower.
    private static IEnumerable<Probe> Suggested(IReadOnlyList<VariantCode> codes)
    {
        var kinds = Pairs(codes).SelectMany(pair => ReasonFinder.Between(pair.One.Tree!, pair.Other.Tree!)).Select(reason => reason.Kind)
            .ToHashSet();
        return Probe.Catalogue.Where(probe => kinds.Contains(probe.Kind));
    }

    private static bool IsTelling(Probe probe, IReadOnlyList<VariantCode> codes, IReadOnlyList<VariantCode> found)
        => Pairs(codes).Any(pair => Of(found, pair.One) is { Tree: { } one } && Of(found, pair.Other) is { Tree: { } other }
            && ReasonFinder.Between(pair.One.Tree!, pair.Other.Tree!).Any(reason => reason.Kind == probe.Kind)
            && probe.TakesAway(pair.One.Tree!, pair.Other.Tree!, one, other));

    private static IEnumerable<(VariantCode One, VariantCode Other)> Pairs(IReadOnlyList<VariantCode> codes)
    {
        var usable = codes.Where(code => code.Facts is not null).ToList();
        return from one in usable from other in usable where one != other && (one.IsBaseline || other.IsBaseline) select (one, other);
    }

    private static VariantCode? Of(IReadOnlyList<VariantCode> codes, VariantCode code)
        => codes.FirstOrDefault(other => other.Name == code.Name);
}
