using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Commands;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Reports.Codes;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Codes;

/// <summary>
/// Looks for what makes a study's rows settle at several speeds: measures them as they are and with parts of the runtime's compiler
/// switched off, in the same rounds.
/// </summary>
/// <param name="project">The study project.</param>
/// <param name="preparation">Makes targets ready.</param>
/// <param name="display">Who watches.</param>
internal sealed class SpeedTrials(string project, Preparation preparation, RunDisplay display)
{
    private static readonly (string Switch, string Value)[] s_tried = [("TieredPGO", "0"), ("TieredCompilation", "0")];

    private static readonly AnalysisOptions s_contrasts = new() { AreContrastsOnly = true };

    /// <summary>What was found, a line each; none where all rows have one speed.</summary>
    /// <param name="plain">Where the study was measured.</param>
    /// <param name="found">What was found there.</param>
    /// <param name="plan">How it was measured.</param>
    /// <param name="cancellation">Ends it early.</param>
    public async Task<IReadOnlyList<string>> RunAsync(
        PreparedTarget plain, StudyFindings found, RunPlan plan, CancellationToken cancellation)
    {
        if (SpeedTrialReporter.Rows(found) is not { Count: > 0 } rows)
        {
            return [SpeedTrialReporter.OfNone(found)];
        }

        List<PreparedTarget> targets = [plain];
        try
        {
            foreach (var (name, value) in s_tried)
            {
                targets.Add(await preparation.MakeAsync(project, plain.Target with
                {
                    Name = $"{name}={value}",
                    Switches = new Dictionary<string, string>(plain.Target.Switches) { [name] = value },
                }, cancellation));
            }

            return targets.Find(target => target.Starter is null) is { } failed
                ? [.. failed.Errors.Select(error => $"· {failed.Target.Name} was not tried: {error}")]
                : await MeasureAsync(targets, rows, found.Study.Name, plan, cancellation);
        }
        finally
        {
            targets.Skip(1).ToList().ForEach(target => target.Dispose());
        }
    }

    private async Task<IReadOnlyList<string>> MeasureAsync(
        List<PreparedTarget> targets, IReadOnlyList<(string Input, CellFindings Row)> rows, string name, RunPlan plan,
        CancellationToken cancellation)
    {
        var outcome = await display.WhileMeasuringAsync(progress => new Experiment(
            new TargetStarters([.. targets.Select(target => target.Starter!)]), plan with { Only = [name], Diagnoses = [] },
            preparation.Surroundings(progress) with
            {
                IsCellMeant = (study, variant, input) => rows.Any(row => row.Input == study.Inputs[input].Label
                    && (row.Row.Row == variant || study.Reference(row.Row.Row) == variant)),
            })
        {
            Targets = targets,
        }.RunAsync(cancellation));
        if (outcome.Run is not { Studies: [var study, ..] } run)
        {
            return [.. outcome.Refusals.Select(refusal => $"· nothing was tried: {refusal}")];
        }

        var measured = TargetAnalyst.Examine(run, study, s_contrasts).Targets;
        return SpeedTrialReporter.Of(rows, measured[0],
            [.. measured.Skip(1).Select((findings, index) => (targets[index + 1].Target.Name, findings))]);
    }
}
