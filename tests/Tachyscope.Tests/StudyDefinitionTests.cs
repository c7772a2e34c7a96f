using System.Runtime.CompilerServices;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Tests;

public sealed class StudyDefinitionTests
{
    [Fact]
    public void A_sound_study_describes_itself_in_the_order_it_was_written()
    {
        Study study = Study.Of("count beacons")
            .Inputs("beacons", [16, 4_096], count => new int[count])
            .Baseline("length", beacons => beacons.Length)
            .Variant("loop", beacons => beacons.Count(_ => true));

        Assert.Empty(study.Description.Mistakes);
        Assert.Equal(["16 beacons", "4,096 beacons"], study.Description.Inputs.Select(input => input.Label));
        Assert.Equal(["length", "loop"], study.Description.Variants.Select(variant => variant.Name));
        Assert.True(study.Description.Variants[0].IsBaseline);
        Assert.Equal("exactly", study.Description.Agreement);
    }

    [Fact]
    public void Mistakes_come_out_together_and_each_names_its_way_out()
    {
        Study study = Study.Of(" ")
            .Inputs("lamps", [4, 4, -1], count => count)
            .Input("odd", 0, () => 1)
            .Baseline("one", x => (double)x)
            .Variant("one", x => (double)x)
            .Variant("turned", Dial.Over("block", 8, 0, -2, 8), (x, block) => x)
            .Variant("bound", x => x, (double prepared, int x) => x)
            .Agree(tolerance: -1)
            .ChangesInput()
            .Threads(1, 1, 0);

        string[] expected =
        [
            "its name is empty", "two variants are named \"one, 1 thread\"", "two inputs are labelled \"4 lamps\"",
                "the input size -1 is below 0",
            "the tolerance -1 is not a finite number of 0 or more", "the weight 0 of input \"odd\" is not a number above 0",
            "the dial \"block\" of \"turned\" has the setting 0; settings are 1 or more.", "has the setting -2", "has the setting 8 twice",
            "it asks for 0 threads; ask for 1 to 1024", "the same number of threads twice",
                "from several threads operations that change their input",
            "it mixes inputs that its variants change",
                "\"bound\" prepares something of one input and is called with others; give it a prepare that takes no input",
        ];
        Assert.All(expected, text => Assert.Contains(study.Description.Mistakes,
            mistake => mistake.Contains(text, StringComparison.Ordinal)));
        Assert.All(study.Description.Mistakes, mistake => Assert.StartsWith("study \" \": ", mistake, StringComparison.Ordinal));
    }

    [Fact]
    public void Missing_inputs_settings_and_awaiting_are_mistakes()
    {
        Study empty = Study.Of("lamps").Inputs("lamps", [], count => count).Baseline("a", x => x)
            .Variant("b", Dial.Over("oil"), (x, oil) => x);
        Func<int, object> hidden = _ => Task.CompletedTask;
        Study task = Study.Of("task").Input("a lamp", () => 1).Baseline("never awaited", x => (Task)hidden(x));
        Study unawaited = Study.Of("unawaited").Input("a lamp", () => 1).Baseline("a", (Func<int, Task<int>[]>)(_ => []));

        Assert.Contains(empty.Description.Mistakes, mistake => mistake.Contains("it has no inputs", StringComparison.Ordinal));
        Assert.Contains(empty.Description.Mistakes,
            mistake => mistake.Contains("\"oil\" of \"b\" has no setting", StringComparison.Ordinal));
        Assert.Equal(CallPath.Awaited, task.Description.Variants[0].Loop.Path);
        Assert.Empty(unawaited.Description.Mistakes);
    }

    [Fact]
    public void Every_shape_of_operation_finds_its_way_to_be_measured()
    {
        var added = 1;
        StudyDraft<int> of = Study.Of("shapes").Input("a number", () => 7);

        Assert.Equal((CallPath.Direct, ResultKind.WholeNumber, CallOrder.Chained), Shape(of.Baseline("whole", x => x + added)));
        Assert.Equal((CallPath.Direct, ResultKind.FloatingPoint, CallOrder.Chained), Shape(of.Baseline("double", x => x / 2.0)));
        Assert.Equal((CallPath.Direct, ResultKind.Reference, CallOrder.Chained), Shape(of.Baseline("list", x => new List<int> { x })));
        Assert.Equal((CallPath.Direct, ResultKind.Structure, CallOrder.Chained), Shape(of.Baseline("pair", x => (x, x))));
        Assert.Equal((CallPath.Direct, ResultKind.Enumerated, CallOrder.Chained),
            Shape(of.Baseline("lazy", x => Enumerable.Range(0, x)).Variant("again", x => Enumerable.Repeat(1, x).Select((_, i) => i))));
        Assert.Equal((CallPath.Direct, ResultKind.None, CallOrder.Overlapped),
            Shape(of.Baseline("nothing", x => GC.KeepAlive(x)).Variant("again", x => Console.Beep())));
        Assert.Equal((CallPath.Direct, ResultKind.Span, CallOrder.Chained),
            Shape(of.Baseline("span", ReadOnlySpan<char> (int x) => "fog").Variant("array", x => new char[1])));
        Assert.Equal((CallPath.Direct, ResultKind.Span, CallOrder.Chained), Shape(of.Baseline("span", x => new byte[x].AsSpan(1))));
        Assert.Equal((CallPath.Awaited, ResultKind.WholeNumber, CallOrder.Chained),
            Shape(of.Baseline("async", async x => { await Task.Yield(); return x; })));
        Assert.Equal((CallPath.Awaited, ResultKind.WholeNumber, CallOrder.Chained),
            Shape(of.Baseline("task", x => Task.FromResult(x)).Variant("plain", x => x).Variant("value", x => new ValueTask<int>(x))));
        Assert.Equal((CallPath.Awaited, ResultKind.WholeNumber, CallOrder.Chained),
            Shape(of.Baseline("value", x => new ValueTask<int>(x))));
        Assert.Equal((CallPath.Awaited, ResultKind.Structure, CallOrder.Chained),
            Shape(of.Baseline("only a task", async x => await Task.Yield()).Variant("done", x => ValueTask.CompletedTask)));
    }

    [Theory]
    [InlineData("n", "n = 2,000")]
    [InlineData("lampCount", "lampCount = 2,000")]
    [InlineData("größe", "größe = 2,000")]
    [InlineData("lamps", "2,000 lamps")]
    [InlineData("lamps in a row", "2,000 lamps in a row")]
    [InlineData("MiB", "2,000 MiB")]
    public void A_size_is_labelled_as_a_count_or_as_the_value_of_a_variable(string axis, string label)
    {
        Study study = Study.Of("sizes").Inputs(axis, [2_000], size => size).Baseline("plain", x => x);

        Assert.Equal(label, Assert.Single(study.Description.Inputs).Label);
    }

    [Fact]
    public void Dials_parts_and_threads_make_rows_of_their_own()
    {
        Study study = Study.Of("rows").Inputs("lamps", [1, 2], "ships", [3], (lamps, ships) => lamps + ships)
            .Baseline("plain", x => x)
            .Variant("turned", Dial.Over("a", 1, 2), Dial.Over("b", 3), (x, a, b) => x)
            .Variant("made", prepare: x => new List<int> { x }, use: (list, x) => x)
            .Threads(1, 2);

        Assert.Equal(["1 lamps, 3 ships", "2 lamps, 3 ships"], study.Description.Inputs.Select(input => input.Label));
        Assert.Equal(
            ["plain, 1 thread", "plain, 2 threads", "turned, a 1, b 3, 1 thread", "turned, a 1, b 3, 2 threads",
                "turned, a 2, b 3, 1 thread", "turned, a 2, b 3, 2 threads",
                "made: prepare", "made: use, 1 thread", "made: use, 2 threads"],
            study.Description.Variants.Select(row => row.Name));
        Assert.Equal([0, 1, 0, 1, 0, 1, null, 0, 1], Enumerable.Range(0, 9).Select(study.Description.Reference));
        Assert.Empty(study.Description.Mistakes);
    }

    [Fact]
    public void Limits_and_a_rate_of_calls_are_declared_and_what_is_wrong_with_them_comes_out()
    {
        var draft = Study.Of("kept").Input("a lamp", () => 3).Baseline("plain", x => x).Variant("other", x => x);

        Study sound = draft.Limit(nanoseconds: 40, bytes: 0, of: "other", on: "a lamp").Limit(processorNanoseconds: 90)
            .Called(40_000, per: TimeSpan.FromMinutes(1), by: 3);
        Study wrong = draft.Limit().Limit(nanoseconds: 0).Limit(bytes: -1).Limit(processorNanoseconds: double.NaN)
            .Limit(bytes: 1, of: "fog", on: "a storm").Called(-1, per: TimeSpan.FromSeconds(1), by: 0);

        Assert.Empty(sound.Description.Mistakes);
        Assert.Equal([new() { Nanoseconds = 40, AllocatedBytes = 0, Variant = "other", Input = "a lamp" },
            new() { ProcessorNanoseconds = 90 }], sound.Description.Limits);
        Assert.Equal((40_000 / 60.0, 3), (sound.Description.Rate!.CallsPerSecond, sound.Description.Rate.Callers));
        Assert.Equal(7, wrong.Description.Mistakes.Count);
        Assert.All(
            (string[])
            [
                "a limit allows anything; give it nanoseconds, processorNanoseconds or bytes, as in .Limit(nanoseconds: 400).",
                "a limit allows 0 ns; allow a number above 0", "a limit allows NaN ns", "a limit allows -1 bytes; allow 0 or more",
                "a limit is of \"fog\", which is no variant; the variants are \"plain\", \"other\".",
                "a limit is on \"a storm\", which is no input; the inputs are \"a lamp\".",
                "it is called -1 times a second by 0; give numbers above 0",
            ],
            mistake => Assert.Contains(wrong.Description.Mistakes, told => told.Contains(mistake, StringComparison.Ordinal)));
    }

    [Fact]
    public void Weighted_inputs_make_a_mix_and_a_family_names_its_elements()
    {
        Study study = Study.OfElement<float>("read lines").Input("plain", 95, () => 1f).Input("damaged", 5, seed => (float)seed)
            .Baseline("a", x => x)
            .PerCall(x => Work.OfItems(x));

        Assert.Equal("mix of 95 % plain, 5 % damaged", study.Description.Inputs[2].Label);
        Assert.True(study.Description.Inputs[2].IsMix);
        Assert.Equal(("read lines of float", "read lines", "float"), (study.Name, study.Description.Family, study.Description.Element));
        Assert.Equal([1, 11, 1.5], study.Body.Inspect(11).Work.Select(work => work.Items));
    }

    [Fact]
    public void A_factory_that_makes_something_else_the_second_time_is_a_mistake_or_shows_in_the_answers()
    {
        var made = 0;
        Study plain = Study.Of("plain").Input("a lamp", () => new[] { ++made }).Baseline("echo", x => x[0]);
        Study hidden = Study.Of("hidden").Input("a lamp", () => new StrongBox<int>(++made)).Baseline("echo", x => x.Value);

        Assert.Contains("made something else the second time from the same seed 1", Assert.Single(plain.Body.Inspect(1).Mistakes),
            StringComparison.Ordinal);
        Assert.Empty(hidden.Body.Inspect(1).Mistakes);
        var reply = hidden.Body.Check(new() { Study = "hidden", Seed = 1, Input = 0, Variant = 0, Reference = 0 });
        Assert.Equal(CellFailureKind.Disagrees, reply.Failure);
        Assert.Contains("the input's factory made something else the second time", reply.Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void A_stage_left_open_or_closed_out_of_order_is_told()
    {
        Study study = Study.Of("stages").Input("a lamp", () => 1)
            .Baseline("sound", x =>
            {
                using (Stage.Open("outer"))
                using (Stage.Open("inner"))
                {
                    return x;
                }
            })
            .Variant("open", x =>
            {
                Stage.Open("forgotten");
                return x;
            })
            .Variant("crossed", x =>
            {
                var (first, second) = (Stage.Open("first"), Stage.Open("second"));
                first.Dispose();
                second.Dispose();
                return x;
            });

        CheckReply Check(int variant)
            => study.Body.Check(new() { Study = "stages", Seed = 1, Input = 0, Variant = variant, Reference = 0 });
        Assert.Null(Check(0).Failure);
        Assert.Equal((CellFailureKind.LeftStageOpen,
            "left the stage \"forgotten\" open; close it, best by: using (Stage.Open(\"…\")) { … }"),
            (Check(1).Failure!.Value, Check(1).Reason));
        Assert.Contains("not the last one opened", Check(2).Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void What_changes_its_input_is_compared_by_what_it_made_of_it()
    {
        Study study = Study.Of("sort").Input("levels", () => new[] { 3, 1, 2 })
            .Baseline("sort", x => Array.Sort(x)).Variant("reverse", x => Array.Reverse(x)).Variant("sort again", x => x.AsSpan().Sort())
            .ChangesInput();

        CheckReply Check(int variant) => study.Body.Check(new() { Study = "sort", Seed = 1, Input = 0, Variant = variant, Reference = 0 });
        Assert.Equal([null, CellFailureKind.Disagrees, null], Enumerable.Range(0, 3).Select(variant => Check(variant).Failure));
        Assert.Equal("answers 2 at index 0 where \"sort\" answers 1, by what it made of its input", Check(1).Reason);
    }

    [Fact]
    public void A_tolerance_on_answers_that_are_no_numbers_is_a_mistake()
    {
        Study words = Study.Of("words").Input("a word", () => "fog").Baseline("echo", x => x).Agree(tolerance: 0.1);
        Study numbers = Study.Of("numbers").Input("some", () => new[] { 1f }).Baseline("echo", x => x).Agree(tolerance: 0.1);

        Assert.Contains("numbers or sequences of numbers, and these are String", Assert.Single(words.Description.Mistakes),
            StringComparison.Ordinal);
        Assert.Empty(numbers.Description.Mistakes);
    }

    [Fact]
    public void A_factory_that_takes_a_seed_gets_the_one_of_the_run()
    {
        Study study = Study.Of("seeds").Input("a seed", seed => seed).Baseline("echo", x => x).Variant("wrong", x => x + 1);

        var reply = study.Body.Check(new() { Study = "seeds", Seed = 42, Input = 0, Variant = 1, Reference = 0 });

        Assert.Equal("answers 43 where \"echo\" answers 42", reply.Reason);
    }

    [Fact]
    public void Arguments_that_are_null_are_refused_at_once()
    {
        Assert.Throws<ArgumentNullException>(() => Study.Of(null!));
        Assert.Throws<ArgumentNullException>(() => Study.Of("x").Input("y", (Func<int>)null!));
        Assert.Throws<ArgumentNullException>(() => Study.Of("x").Input("y", () => 1).Baseline("z", (Func<int, int>)null!));
    }

    private static (CallPath Path, ResultKind Result, CallOrder Order) Shape(Study study)
    {
        Assert.Empty(study.Description.Mistakes);
        return (study.Description.Variants[0].Loop.Path, study.Description.Variants[0].Loop.Result,
            study.Description.Variants[0].Loop.Order);
    }
}
