using Tachyscope.Lab.Answers;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Targets;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>What several targets have in common, and what they have not.</summary>
public sealed class AcrossTargetsTests
{
    private static readonly ExperimentSurroundings Around = new() { Machine = new() { Processor = "Lamp", ProcessorCount = 2,
        OperatingSystem = "Harbour" }, Tool = "test" };
    private static readonly StudyDescription Lamps = ExperimentTests.Study("lamps", 2);

    [Fact]
    public async Task Rows_and_inputs_are_matched_by_name_whatever_their_order_and_loop()
    {
        var awaited = new LoopShape { Path = CallPath.Awaited };
        var other = Lamps with
        {
            Inputs = [Lamps.Inputs[1], new InputDescription { Label = "fog" }],
            Variants = [Lamps.Variants[2] with { Loop = awaited }, Lamps.Variants[0],
                new VariantDescription { Name = "new", Variant = "new", IsBaseline = true }],
        };
        var workers = new ScriptedWorkers(Lamps) { HeldBy = target => target == 1 ? [other] : null, Times = row => 100 * (row + 1) };

        var run = (await MeasureAsync(workers)).Run!;

        var study = run.Studies[0];
        Assert.Equal(["v0", "v1", "v2", "new"], study.Study.Variants.Select(row => row.Name));
        Assert.Equal(["input 0", "input 1", "fog"], study.Study.Inputs.Select(input => input.Label));
        Assert.Single(study.Study.Variants, row => row.IsBaseline);
        var missing = study.Failures.Select(failure => (failure.Variant, failure.Input, failure.Target)).ToHashSet();
        Assert.All(study.Failures, failure => Assert.Equal(CellFailureKind.Missing, failure.Kind));
        // Of twelve cells on each side: the new row and fog are not on the first, v1 and input 0 not on the second.
        Assert.Equal(6 + 6, missing.Count);
        Assert.Contains((1, 1, 1), missing);
        Assert.DoesNotContain((3, 1, 1), missing);
        var sitting = study.Sittings[0];
        double Time(int row) => sitting.Readings.First(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Input: 1,
            Target: 1 } cell && cell.Variant == row).NanosecondsPerCall;
        // As the other target counts them: v2 is its first row, v0 its second.
        Assert.Equal((100, 200, 300), (Time(2), Time(0), Time(3)));
        Assert.Equal(CallPath.Awaited, sitting.Cells.First(cell => cell is { Kind: CellKind.Variant, Variant: 2, Target: 1 }).Loop.Path);
    }

    [Fact]
    public async Task A_duel_measures_what_is_on_both_sides_and_lists_the_rest()
    {
        var (old, @new) = (ExperimentTests.Study("old", 1), ExperimentTests.Study("new", 1));
        var workers = new ScriptedWorkers { HeldBy = target => target == 0 ? [Lamps, old] : [Lamps, @new] };

        var outcome = await MeasureAsync(workers, isDuel: true);

        Assert.Equal(["lamps"], outcome.Run!.Studies.Select(study => study.Study.Name));
        Assert.Equal(["only a has \"old\"", "only b has \"new\""], outcome.Aside);
        var none = await MeasureAsync(new ScriptedWorkers { HeldBy = target => target == 0 ? [old] : [@new] }, isDuel: true);
        Assert.Equal("no study is on both sides: only a has \"old\"; only b has \"new\".", Assert.Single(none.Refusals));
        Assert.Equal(["lamps", "old", "new"], (await MeasureAsync(workers)).Run!.Studies.Select(study => study.Study.Name));
    }

    [Theory]
    [InlineData("TieredPGO", "0", true, null)]
    [InlineData("tieredpgo", "0", true, null)]
    [InlineData("GCHeapHardLimit", "0x2000", true, null)]
    [InlineData("EnableBMI2", "0", false,
        "b: switch:EnableBMI2=0 has no effect here: the process shows EnableBMI2=1 (.NET 10); leave it out, or add --insist to measure "
            + "all the same.")]
    [InlineData("TieredPOG", "0", false,
        "b: the runtime would ignore switch:TieredPOG in silence; is TieredPGO meant? Add --insist to measure all the same.")]
    [InlineData("JitNoInline", "1", false, null)]
    public async Task A_switch_must_be_seen_to_act_and_what_cannot_be_seen_is_kept_as_such(string name, string value, bool isSeen,
        string? refusal)
    {
        var workers = new ScriptedWorkers(Lamps) { Effects = new() { ["TieredPGO"] = "0", ["EnableBMI2"] = "1",
            ["GCHeapHardLimit"] = "2000" } };
        PreparedTarget[] targets = [Named("a"),
            new(new Target { Name = "b", Switches = new Dictionary<string, string> { [name] = value } }, null, [])];

        var outcome = await new Experiment(workers, new RunPlan(), Around) { Targets = targets }.RunAsync(CancellationToken.None);
        var insisted = await new Experiment(workers, new RunPlan { IsInsisted = true },
            Around) { Targets = targets }.RunAsync(CancellationToken.None);

        Assert.Equal(refusal is null ? [] : [refusal], outcome.Refusals);
        Assert.Equal(new SwitchState(name, value, isSeen), Assert.Single(insisted.Run!.Targets[1].Switches));
        Assert.Equal(workers.Started, workers.Disposed);
    }

    [Fact]
    public async Task What_was_asked_to_be_unoptimised_is_not_refused()
    {
        var workers = new ScriptedWorkers(Lamps) { Environment = new() { Runtime = ".NET 10", Architecture = "x64", IsOptimized = false,
            UnoptimizedAssemblies = ["Lamps"], Processors = [0, 1] } };
        PreparedTarget[] targets = [new(new Target { Name = "a", IsOptimized = false }, null, []), Named("b")];

        var outcome = await new Experiment(workers, new RunPlan(), Around) { Targets = targets }.RunAsync(CancellationToken.None);

        Assert.StartsWith("b: Lamps was built without optimisation (Debug)", Assert.Single(outcome.Refusals), StringComparison.Ordinal);
    }

    [Fact]
    public void Answers_agree_exactly_within_a_tolerance_or_cannot_be_compared()
    {
        var exact = Heard(0, new("1", "A"), new("1", "A"), new("2", "B"));
        Assert.Equal((CellFailureKind.Disagrees, 2, "answers 2 where it answers 1 on a"),
            (exact.Failures[0].Kind, exact.Failures[0].Target, exact.Failures[0].Reason));
        Assert.Single(exact.Failures);
        var close = Heard(1e-6, new("[1, 2]", "A", [1, 2]), new("[1, 2]", "B", [1, 2 + 1e-7]), new("[1, 2]", "C", [1, 2.1]));
        Assert.Equal("answers 2.1 at index 1 where it answers 2 on a", Assert.Single(close.Failures).Reason);
        var shorter = Heard(1e-6, new("[1, 2, …]", "A", [1, 2]), new("[1, 2, …]", "B", [1]));
        Assert.Equal("answers otherwise than it does on a", Assert.Single(shorter.Failures).Reason);
        var own = Heard(null, new("fog", "A"), new("fog", "A"), new("mist", "B"));
        Assert.Empty(own.Failures);
        Assert.Equal((ObservationKind.NotComparedAcross, 2), (own.Observations[0].Kind, own.Observations[0].Target));
        var untold = Heard(0, new("a chart", null), new("a chart", null));
        Assert.Equal("its answer on a cannot be written down in full", Assert.Single(untold.Observations).Evidence);
        var silent = Heard(0, null, null);
        Assert.True(silent.Failures.Count == 0 && silent.Observations.Count == 0);
    }

    private static AnswersAcross Heard(double? tolerance, params AnswerDigest?[] answers)
    {
        var across = new AnswersAcross(Lamps with { Tolerance = tolerance }, ["a", "b", "c"]);
        for (var target = 0; target < answers.Length; target++)
        {
            across.Hear(new CellAnswer { Variant = 0, Input = 0, Target = target, Answer = answers[target] });
        }

        return across;
    }

    private static Task<RunOutcome> MeasureAsync(ScriptedWorkers workers, bool isDuel = false)
        => new Experiment(workers, new RunPlan(), Around) { Targets = [Named("a"), Named("b")],
            IsOnlyCommonMeasured = isDuel }.RunAsync(CancellationToken.None);

    private static PreparedTarget Named(string name) => new(new Target { Name = name }, null, []);
}
