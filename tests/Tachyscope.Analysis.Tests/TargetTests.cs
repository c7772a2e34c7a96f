using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

public sealed class TargetTests
{
    private static readonly RunSimulator TwoTargets = new() { Times = [100, 50], Slowness = [1, 1.5], WorkerDeviation = 0.05,
        SittingDeviation = 0.002, Rounds = 8 };

    [Fact]
    public void Each_target_has_its_own_tables_and_each_row_is_held_against_itself_on_the_first()
    {
        var run = TwoTargets.Make(1);

        var found = TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default);

        Assert.Equal([0.5, 0.5], found.Targets.Select(target => Math.Round(target.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 2)));
        Assert.Equal([(0, 1, Verdict.Slower), (1, 1, Verdict.Slower)],
            found.Contrasts.Select(contrast => (contrast.Row, contrast.Target, contrast.Verdict)));
        Assert.All(found.Contrasts, contrast => Assert.InRange(contrast.TimeRatio.Estimate, 1.49, 1.51));
    }

    /// <summary>A beat's own noise would widen what one processor at one moment tells by itself.</summary>
    [Fact]
    public void On_one_processor_the_metronome_is_left_out()
    {
        var run = (TwoTargets with { WorkerDeviation = 0 }).Make(1);
        var noisy = run.Studies[0] with
        {
            Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
            {
                Readings = [.. sitting.Readings.Select((reading, index) => sitting.Cells[reading.Cell].Kind == CellKind.Metronome
                    ? reading with { ElapsedNanoseconds = reading.ElapsedNanoseconds * (90 + (index % 20)) / 100 }
                    : reading)],
            })],
        };

        Interval Ratio(StudyRecord study) => TargetAnalyst.Examine(run, study, AnalysisOptions.Default).Contrasts[0].TimeRatio;

        Assert.Equal(Ratio(run.Studies[0]), Ratio(noisy));
    }

    [Fact]
    public void Repeats_are_compared_each_by_itself()
    {
        var run = TwoTargets.Make(1);
        var study = run.Studies[0];
        StudyRecord Repeated(double times) => study with
        {
            Sittings = [.. study.Sittings, .. study.Sittings.Select(sitting => sitting with
            {
                Repeat = 2,
                Readings = [.. sitting.Readings.Select(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Target: 1 }
                    ? reading with { ElapsedNanoseconds = (long)(reading.ElapsedNanoseconds * times) }
                    : reading)],
            })],
        };

        var alike = TargetAnalyst.Examine(run, Repeated(1), AnalysisOptions.Default).Contrasts[0];
        var apart = TargetAnalyst.Examine(run, Repeated(1.2), AnalysisOptions.Default).Contrasts[0];

        Assert.Equal(2, alike.Repeats.Count);
        Assert.True(alike.DoRepeatsAgree && !apart.DoRepeatsAgree);
        Assert.InRange(apart.Repeats[1].Estimate / apart.Repeats[0].Estimate, 1.19, 1.21);
    }

    [Fact]
    public void A_variant_that_a_target_lacks_is_missing_there_only()
    {
        var run = TwoTargets.Make(1);
        var study = run.Studies[0] with
        {
            Failures = [new() { Variant = 1, Input = 0, Target = 1, Kind = CellFailureKind.Missing, Reason = "t1 has no such variant" }],
            Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
            {
                Readings = [.. sitting.Readings.Where(reading
                    => sitting.Cells[reading.Cell] is not { Kind: CellKind.Variant, Variant: 1, Target: 1 })],
            })],
        };

        var found = TargetAnalyst.Examine(run, study, AnalysisOptions.Default);

        Assert.Null(found.Targets[0].Inputs[0].Cells[1].Failure);
        Assert.Equal(CellFailureKind.Missing, found.Targets[1].Inputs[0].Cells[1].Failure!.Kind);
        Assert.Equal([0], found.Contrasts.Select(contrast => contrast.Row));
    }

    [Fact]
    public void A_target_that_took_a_shared_core_for_quiet_is_judged_by_what_the_other_knows()
    {
        var run = (TwoTargets with
        {
            Slowness = [1, 1], WorkerDeviation = 0, Rounds = 24, SharedShare = 0.6, CallsPerReading = 500,
        }).Make(1);
        var mistaken = run with
        {
            Studies = [run.Studies[0] with
            {
                Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting.Number % 2 == 0 ? sitting
                    : sitting with { LowGauges = [sitting.LowGauges[0], sitting.LowGauges[1] * 7 / 5] })],
            }],
        };

        Assert.All(Ratios(run).Zip(Ratios(mistaken)), ratio => Assert.Equal(ratio.First, ratio.Second, 0.005));

        static IEnumerable<double> Ratios(Run run)
            => TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default).Contrasts
                .Select(contrast => contrast.TimeRatio.Estimate);
    }

    /// <summary>
    /// Workers held to one processor have the same speed; others have their own, which their metronomes tell. However much of the core was
    /// shared, builds of one operation suffer alike.
    /// </summary>
    [Theory]
    [InlineData(0, null)]
    [InlineData(0.05, null)]
    [InlineData(0, 0.5)]
    [InlineData(0, 0.9)]
    [InlineData(0.05, 0.9)]
    public void Intervals_hold_the_truth_and_equal_targets_are_not_told_apart(double workerDeviation, double? sharedShare)
    {
        var targets = TwoTargets with
        {
            Times = [100], Bytes = [0], WorkerDeviation = workerDeviation, Rounds = sharedShare is null ? 6 : 24,
            SittingDeviation = sharedShare is null ? 0.002 : 0.01, SharedShare = sharedShare, CallsPerReading = 500,
        };
        var (runs, held, apart) = (sharedShare is null ? 1_000 : 400, 0, 0);
        Parallel.For(0, runs, seed =>
        {
            TargetContrast First(RunSimulator simulator)
                => simulator.Make(seed) is var run
                    ? TargetAnalyst.Examine(run, run.Studies[0], new() { AreContrastsOnly = true }).Contrasts[0]
                    : null!;
            var slower = First(targets with { Slowness = [1, 1.03], Drift = 0.1 });
            Interlocked.Add(ref held, slower.TimeRatio.Lower <= 1.03 && slower.TimeRatio.Upper >= 1.03 ? 1 : 0);
            Interlocked.Add(ref apart, First(targets with { Slowness = [1, 1] }).Verdict is Verdict.Faster or Verdict.Slower ? 1 : 0);
        });

        Assert.InRange((double)held / runs, 0.93, 0.97);
        Assert.InRange((double)apart / runs, 0, 0.05);
    }
}
