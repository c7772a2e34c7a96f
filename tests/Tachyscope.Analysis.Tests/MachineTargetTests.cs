using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Targets that were measured on machines of their own, so that no sitting holds both.</summary>
public sealed class MachineTargetTests
{
    private const int Runs = 300;

    private static readonly RunSimulator Small = new() { Times = [100, 50], Rounds = 8, SittingDeviation = 0.01 };

    [Fact]
    public void Each_machine_has_its_own_figures_and_each_row_is_held_against_itself_on_the_first()
    {
        var found = Examine(Small.Make(1), (Small with { Times = [150, 90] }).Make(2));

        Assert.Equal([0.5, 0.6], found.Targets.Select(target => Math.Round(target.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 1)));
        Assert.Equal([6, 6], found.Targets.Select(target => target.Sittings));
        Assert.Equal([Verdict.Slower, Verdict.Slower], found.Contrasts.Select(contrast => contrast.Verdict));
        Assert.InRange(found.Contrasts[0].TimeRatio.Estimate, 1.45, 1.55);
        Assert.InRange(found.Contrasts[1].TimeRatio.Estimate, 1.74, 1.86);
    }

    [Theory]
    [InlineData(1, 0.01, 6)]
    [InlineData(1.5, 0.04, 6)]
    [InlineData(1, 0.04, 12)]
    public void Intervals_hold_the_truth_when_the_machines_are_not_equally_steady(double slowness, double deviation, int sittings)
    {
        var other = Small with { Times = [100 * slowness, 50 * slowness], SittingDeviation = deviation, Sittings = sittings };
        var (held, claimed) = (0, 0);
        for (var seed = 1; seed <= Runs; seed++)
        {
            var contrasts = Examine(Small.Make(seed), other.Make(seed + Runs)).Contrasts;
            // They hold together.
            held += contrasts.All(contrast => contrast.TimeRatio.Lower <= slowness && slowness <= contrast.TimeRatio.Upper) ? 1 : 0;
            claimed += contrasts.Any(contrast => contrast.Verdict is Verdict.Faster or Verdict.Slower) ? 1 : 0;
        }

        Assert.InRange(held, 0.93 * Runs, Runs);
        if (slowness == 1)
        {
            Assert.InRange(claimed, 0, 0.05 * Runs);
        }
    }

    private static StudyOnTargets Examine(Run first, Run second)
    {
        var study = first.Studies[0];
        var run = first with
        {
            Targets = [.. new[] { ("small", first), ("large", second) }
                .Select(kind => new TargetDescription { Name = kind.Item1, Environment = kind.Item2.Environment,
                    Machine = kind.Item2.Machine })],
            Studies = [study with
            {
                Sittings = [.. study.Sittings, .. second.Studies[0].Sittings.Select(sitting => sitting with
                {
                    Cells = [.. sitting.Cells.Select(cell => cell with { Target = 1 })],
                })],
            }],
        };
        return TargetAnalyst.Examine(run, run.Studies[0], new AnalysisOptions { AreContrastsOnly = true });
    }
}
