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
            .Variant("one", x => (double)x)
            .Variant("one", x => (double)x)
            .Agree(tolerance: -1);

        string[] expected =
        [
            "its name is empty", "two variants are named \"one\"", "two inputs are labelled \"4 lamps\"", "the input size -1 is below 0",
            "it has no baseline; turn one .Variant(…) into .Baseline(…)", "the tolerance -1 is not a finite number of 0 or more",
        ];
        Assert.Equal(expected.Length, study.Description.Mistakes.Count);
        Assert.All(expected, text => Assert.Contains(study.Description.Mistakes, mistake => mistake.Contains(text, StringComparison.Ordinal)));
    }

    [Fact]
    public void Two_baselines_and_missing_inputs_are_mistakes()
    {
        Study study = Study.Of("lamps").Inputs("lamps", [], count => count).Baseline("a", x => x).Baseline("b", x => x);

        Assert.Contains(study.Description.Mistakes, mistake => mistake.Contains("2 baselines (\"a\", \"b\")", StringComparison.Ordinal));
        Assert.Contains(study.Description.Mistakes, mistake => mistake.Contains("it has no inputs", StringComparison.Ordinal));
    }

    [Fact]
    public void A_tolerance_on_answers_that_are_no_numbers_is_a_mistake()
    {
        Study words = Study.Of("words").Input("a word", () => "fog").Baseline("echo", x => x).Agree(tolerance: 0.1);
        Study numbers = Study.Of("numbers").Input("some", () => new[] { 1f }).Baseline("echo", x => x).Agree(tolerance: 0.1);

        Assert.Contains("numbers or sequences of numbers, and these are String", Assert.Single(words.Description.Mistakes), StringComparison.Ordinal);
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
}
