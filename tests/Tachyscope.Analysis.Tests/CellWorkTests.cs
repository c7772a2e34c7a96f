using Tachyscope.Analysis.Histories;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

public class CellWorkTests
{
    private static readonly double[] Numbers = [.. Enumerable.Range(1, 1_000).Select(number => Math.Sqrt(number) - 12)];

    [Fact]
    public void Another_input_or_another_answer_is_other_work()
    {
        var lamps = Work(0, "15", "AAAA", "F00D");

        Assert.Null(CellWork.Difference(lamps, Work(0, "15", "AAAA", "F00D")));
        Assert.Equal(new WorkDifference(true, "15", "15"), CellWork.Difference(lamps, Work(0, "15", "AAAA", "BEAD")));
        Assert.Equal(new WorkDifference(false, "15", "16"), CellWork.Difference(lamps, Work(0, "16", "BBBB", "F00D")));
    }

    [Fact]
    public void A_guest_is_held_to_what_the_baseline_answers()
    {
        CellWork OfGuest(string answer)
        {
            var run = new RunSimulator { Times = [100, 50] }.Make(1);
            var study = run.Studies[0].Study;
            return RunSummary.Of(run with
            {
                Studies = [run.Studies[0] with
                {
                    Study = study with { Tolerance = 0,
                        Variants = [study.Variants[0],
                            study.Variants[1] with { Guest = new GuestDescription { Language = "C", Build = "" } }] },
                    Answers = [new CellAnswer { Variant = 0, Input = 0, Answer = new AnswerDigest(answer, answer, null) }],
                }],
            }).Cells[1].Work!;
        }

        Assert.Null(CellWork.Difference(OfGuest("15"), OfGuest("15")));
        Assert.Equal(new WorkDifference(false, "15", "16"), CellWork.Difference(OfGuest("15"), OfGuest("16")));
    }

    [Fact]
    public void What_was_not_kept_or_follows_a_rule_of_its_own_tells_nothing()
    {
        var lamps = Work(0, "15", "AAAA", "F00D");

        Assert.Null(CellWork.Difference(lamps, null));
        Assert.Null(CellWork.Difference(lamps, Work(0, "16", null, null)));
        Assert.Null(CellWork.Difference(Work(null, "15", "AAAA", "F00D"), Work(null, "16", "BBBB", "F00D")));
        Assert.Null(CellWork.Difference(lamps, Work(1e-9, "16", "BBBB", "F00D", [16])));
        Assert.All(RunSummary.Of(new RunSimulator { Times = [100, 50] }.Make(3)).Cells, cell => Assert.Null(cell.Work));
    }

    // The rule holds number by number, and is kept by two sums.
    [Fact]
    public void Numbers_within_their_tolerance_are_the_same_answer_and_one_well_beyond_is_not()
    {
        const double tolerance = 1e-9;
        var was = Work(tolerance, "…", "AAAA", null, Numbers);
        for (var seed = 1; seed <= 200; seed++)
        {
            var random = new Random(seed);
            double[] near = [.. Numbers.Select(number
                => number + ((random.Next(2) == 0 ? 1 : -1) * tolerance * Math.Max(1, Math.Abs(number)) * random.NextDouble()))];
            double[] allUp = [.. Numbers.Select(number => number + (tolerance * Math.Max(1, Math.Abs(number))))];
            var changed = random.Next(Numbers.Length);
            double[] far = [.. near.Select((number, place) => place == changed ? number + 0.001 : number)];
            var (one, other) = (random.Next(500), 500 + random.Next(500));
            double[] swapped = [.. Numbers];
            (swapped[one], swapped[other]) = (swapped[other], swapped[one]);

            Assert.Null(CellWork.Difference(was, Work(tolerance, "…", "BBBB", null, near)));
            Assert.Null(CellWork.Difference(was, Work(tolerance, "…", "BBBB", null, allUp)));
            Assert.False(CellWork.Difference(was, Work(tolerance, "…", "BBBB", null, far))!.IsInput);
            Assert.NotNull(CellWork.Difference(was, Work(tolerance, "…", "BBBB", null, swapped)));
        }

        Assert.NotNull(CellWork.Difference(was, Work(tolerance, "…", "BBBB", null, Numbers[..^1])));
        Assert.Null(CellWork.Difference(was, Work(tolerance, "…", "BBBB", null, [.. Numbers[..^1], double.NaN])));
    }

    [Fact]
    public void Repeats_of_one_code_that_answer_otherwise_take_the_word_of_answers_away()
    {
        var (one, other, third) = (Answering("15", "old"), Answering("16", "old"), Answering("17", "new"));

        var alone = RunComparison.Of(one, third, [], 0.01);
        var known = RunComparison.Of(one, third, [(one, other)], 0.01);

        Assert.NotNull(Assert.Single(alone.Changes).Work);
        Assert.Empty(alone.AnsweringAnew);
        Assert.Null(Assert.Single(known.Changes).Work);
        Assert.Equal("quick", Assert.Single(known.AnsweringAnew).Variant);
        Assert.Null(Assert.Single(RunComparison.Of(one, other, [], 0.01).Changes).Work);
    }

    [Fact]
    public void Other_work_enters_a_trend_once_unless_the_same_code_answers_anew()
    {
        var trend = StudyTrend.Of("lamps", [Answering("15", "a"), Answering("15", "b"), Answering("16", "c"), Answering("16", "c")], 0.01);
        var anew = StudyTrend.Of("lamps", [Answering("15", "a"), Answering("16", "b"), Answering("17", "b")], 0.01);

        Assert.Equal((2, new WorkDifference(false, "15", "16")), Assert.Single(trend.Cells[0].WorkChanges));
        Assert.Empty(anew.Cells[0].WorkChanges);
    }

    private static RunSummary Answering(string answer, string stamp) => new()
    {
        Started = DateTimeOffset.UnixEpoch, Tool = "1", Machine = "here", Runtime = ".NET", Code = new CodeState { Stamp = stamp },
        Cells = [new CellSummary
        {
            Study = "lamps", Variant = "quick", Input = "a lamp", Nanoseconds = 100, Beats = 100, LogError = 0.01, Sittings = 6, Bytes = 0,
            Work = new CellWork { Answer = answer, Told = answer },
        }],
    };

    private static CellWork Work(double? tolerance, string words, string? hash, string? input, double[]? numbers = null)
    {
        var run = new RunSimulator { Times = [100, 50] }.Make(1);
        var record = run.Studies[0] with
        {
            Study = run.Studies[0].Study with { Tolerance = tolerance },
            Answers = [new CellAnswer { Variant = 1, Input = 0, Answer = new AnswerDigest(words, hash, numbers) },
                new CellAnswer { Variant = 0, Input = 0, InputHash = input }],
        };
        return RunSummary.Of(run with { Studies = [record] }).Cells[1].Work!;
    }
}
