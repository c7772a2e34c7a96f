using System.Runtime.CompilerServices;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using static Tachyscope.Tests.WorkerTests;

namespace Tachyscope.Tests;

/// <summary>Pools of inputs, calls that stay calls, and calls that find their caches empty.</summary>
public sealed class PoolTests
{
    private const int Lamps = 5;

    [Fact]
    public void A_pool_is_an_input_of_many_and_says_so()
    {
        Study study = Study.Of("lamps").Input("lamps", seed => new[] { seed }).Pool("lamps", 64, seed => new[] { seed })
            .Pools("lamps", [16, 1_024], 1_000, PoolOrder.InTurn, (size, seed) => new int[size + seed])
            .Baseline("length", lamps => lamps.Length);

        Assert.Empty(study.Description.Mistakes);
        Assert.Equal(
            [("lamps", null, false), ("64 × lamps", 64, false), ("1,000 × 16 lamps", 1_000, true), ("1,000 × 1,024 lamps", 1_000, true)],
            study.Description.Inputs.Select(input => (input.Label, input.Pool, input.IsPoolInTurn)));
        Assert.Equal(1_024, study.Description.Inputs[3].Sizes[0].Value);
    }

    [Fact]
    public void What_cannot_be_a_pool_is_a_mistake_with_a_way_out()
    {
        Study few = Study.Of("few").Pool("lamps", 1, seed => seed).Baseline("same", lamp => lamp);
        Study changed = Study.Of("changed").Pool("lamps", 4, seed => new[] { seed }).Baseline("same", lamps => lamps.Length).ChangesInput();
        Study guest = Study.Of("guest").Pool("lamps", 4, seed => seed).Baseline("same", lamp => lamp).Guest("other",
            Guest.Python("lamps.py"));

        Assert.Contains(
            "has 1 inputs; give it 2 to 1,000,000, or add a single one with .Input(…)", Assert.Single(few.Description.Mistakes),
            StringComparison.Ordinal);
        Assert.Contains("leave out .Pool(…) or .ChangesInput()", Assert.Single(changed.Description.Mistakes), StringComparison.Ordinal);
        Assert.Contains("leave out .Pool(…) or .Guest(…)", Assert.Single(guest.Description.Mistakes), StringComparison.Ordinal);
    }

    [Fact]
    public void A_factory_that_does_not_look_at_its_seed_and_a_pool_larger_than_memory_are_found()
    {
        Study alike = Study.Of("alike").Pool("lamps", 8, _ => new[] { 7 }).Baseline("length", lamps => lamps.Length);
        Study large = Study.Of("large").Pool("lamps", 1_000_000, seed => new int[1_000_000 + seed]).Baseline("length",
            lamps => lamps.Length);
        Study sound = Study.Of("sound").Pool("lamps", 8, seed => new[] { seed }).Baseline("length", lamps => lamps.Length);

        Assert.Contains(
            "the pool \"8 × lamps\" makes the same from the seeds 1 to 8; let what it makes depend on its seed",
            Assert.Single(Inspect(alike)), StringComparison.Ordinal);
        Assert.Matches(@"takes 40\d\d.\d GB, 4.* MB for each, and .* GB may be used here; give it \d+ or fewer",
            Assert.Single(Inspect(large)));
        Assert.Empty(Inspect(sound));
    }

    [Fact]
    public void Who_is_right_on_the_first_of_a_pool_has_to_be_right_on_others()
    {
        Study study = Study.Of("lamps").Pool("lamps", 8, seed => new[] { seed })
            .Baseline("first", lamps => lamps[0]).Variant("right once", lamps => Math.Min(lamps[0], 3)).Variant("dark",
                lamps => 6 / (4 - lamps[0]));

        Assert.Null(Check(study, 0).Failure);
        var wrong = Check(study, 1);
        Assert.Equal(CellFailureKind.Disagrees, wrong.Failure);
        Assert.Equal("answers 3 where \"first\" answers 4, on the pool's input of seed 4", wrong.Reason);
        Assert.Equal(CellFailureKind.Disagrees, Check(study, 2).Failure);
    }

    [Fact]
    public void A_shuffled_pool_brings_each_once_before_any_comes_again_and_one_in_turn_as_they_are()
    {
        int[] kinds = [.. Enumerable.Range(0, Lamps)];
        var (shuffled, inTurn) = (InputRow<int>.Pool(kinds, isInTurn: false, 3), InputRow<int>.Pool(kinds, isInTurn: true, 3));

        Assert.Equal(kinds, inTurn.Items);
        Assert.All(shuffled.Items.Chunk(Lamps), stretch => Assert.Equal(kinds, stretch.Order()));
        Assert.True(shuffled.Items.Chunk(Lamps).Select(stretch => string.Join(',', stretch)).Distinct().Count() > 20);
        Assert.Equal(Lamps, shuffled.Stretch);
        Assert.Equal(5_000, InputRow<int>.Pool([.. Enumerable.Range(0, 5_000)], isInTurn: false, 3).Items.Distinct().Count());
    }

    // What is prepared of one input is used with that one, in the loop through the delegate and in the emitted one.
    [Fact]
    public void Each_of_a_pool_is_prepared_and_used_with_what_was_prepared_of_it()
    {
        var (used, wrong) = (0, 0);
        Study study = Study.Of("kept").Pool("lamps", Lamps, seed => new[] { seed }).Baseline(
            "kept", prepare: lamps => lamps[0] * 10, use: (kept, lamps) =>
            {
                used++;
                wrong += kept == lamps[0] * 10 ? 0 : 1;
                return kept;
            });
        var use = study.Description.Variants[1];
        var cell = study.Body.Open([new() { Kind = CellKind.Variant, Variant = 1, Loop = use.Loop with { Supply = InputSupply.Each } }],
            1, 1)[0];

        cell.Loop(37);
        Assert.Equal((37, 0), (used, wrong));
        cell.ChangeLoop();
        cell.Loop(37);
        Assert.Equal((74, 0), (used, wrong));
    }

    [Fact]
    public void A_call_that_stays_a_call_gets_the_same_inputs_and_a_cold_one_is_called_as_often_as_asked()
    {
        var sum = 0;
        Study study = Study.Of("called").Input("a lamp", () => 5).Baseline("added", lamp => sum += lamp);
        var loop = study.Description.Variants[0].Loop;
        var cells = study.Body.Open(
        [
            new() { Kind = CellKind.Variant, Loop = loop with { IsCalled = true } },
            new() { Kind = CellKind.Variant, Loop = loop with { EmptiedBytes = 4_096 } },
        ], 1, 1);

        cells[0].ChangeLoop();
        cells[0].Loop(10);
        Assert.Equal(50, sum);
        cells[1].ChangeLoop();
        cells[1].Loop(10);
        Assert.Equal(100, sum);
        // Emptying begins with a call that is not read.
        cells[1].Cold!.BeginCold();
        cells[1].Loop(3);
        Assert.Equal(120, sum);
        Assert.True(cells[1].Clock!.End >= cells[1].Clock!.Start);
        Assert.True(CellReader.Take(cells[1], 2).ElapsedNanoseconds >= 0);
    }

    [Fact]
    public void A_worker_tells_of_each_loop_whether_the_operation_is_in_it()
    {
        Study study = Study.Of("code").Input("a lamp", () => 5).Baseline("small", lamp => lamp * 3).Variant("kept out", KeptOut);
        CellDescription[] cells =
        [
            new() { Kind = CellKind.Metronome }, .. study.Description.Variants.Select((row, index) => new CellDescription
            {
                Kind = CellKind.Variant, Variant = index, Loop = row.Loop,
            }),
        ];

        var codes = Replies.FromElement<CompileReply>(AskOf(
            study, Request(WorkerMethods.Open, new OpenRequest { Study = "code", Seed = 1, Cells = cells }),
            Request(WorkerMethods.Warm, new WarmRequest { Cells = [0, 1, 2], QuietMilliseconds = 1, CapMilliseconds = 50 }),
            Request(WorkerMethods.Compile, Empty.Instance))[2].Result).Codes;

        Assert.Equal(3, codes.Count);
        Assert.Null(codes[0]);
        Assert.Equal([true, false], codes.Skip(1).Select(code => code!.IsInlined));
        Assert.All(codes.Skip(1), code => Assert.True(code is { LoopBytes: > 0, LoopOffset: >= 0 and < 4_096 }));
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int KeptOut(int lamp) => lamp * 3;

    private static IReadOnlyList<string> Inspect(Study study) => Replies.FromElement<InspectReply>(
        AskOf(study, Request(WorkerMethods.Inspect, new InspectRequest { Study = study.Name, Seed = 1 }))[0].Result).Mistakes;

    private static CheckReply Check(Study study, int variant) => Replies.FromElement<CheckReply>(AskOf(
        study, Request(WorkerMethods.Check, new CheckRequest { Study = study.Name, Seed = 1, Input = 0, Variant = variant,
            Reference = 0 }))[0].Result);
}
