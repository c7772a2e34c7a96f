using Tachyscope.Lab.Shares;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

public sealed class ShareTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope shares ü").FullName;

    private static readonly Share Whole = new()
    {
        Part = new RunShare { Plan = "", Number = 1, Count = 1 }, Tool = "1.0", Project = "lamps", Studies = [],
            Plan = new RunPlan { Seed = 3 },
        Targets = ["net8.0", "net10.0"], Commit = "0123456789abcdef",
    };

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void Every_study_is_in_one_share_and_shares_take_about_as_long_as_each_other()
    {
        StudyDescription[] studies = [.. Enumerable.Range(1, 9).Select(number => Study($"s{number}", inputs: number))];

        var shares = Share.Cut(Whole, studies, 3);

        Assert.Equal(studies.Select(study => study.Name), shares.SelectMany(share => share.Studies).Order(StringComparer.Ordinal));
        var inputs = shares.Select(share => share.Studies.Sum(name => studies.First(study => study.Name == name).Inputs.Count)).ToList();
        Assert.InRange(inputs.Max() - inputs.Min(), 0, 3);
        Assert.Equal([(1, 3), (2, 3), (3, 3)], shares.Select(share => (share.Part.Number, share.Part.Count)));
        Assert.Equal(9, Share.Cut(Whole, studies, 100).Count);
    }

    [Fact]
    public void Every_kind_of_machine_gets_all_and_the_same_plan_has_the_same_name()
    {
        StudyDescription[] studies = [Study("a"), Study("b")];
        var whole = Whole with { Machines = ["small", "large"] };

        var shares = Share.Cut(whole, studies, 2);

        Assert.Equal([("small", 1), ("small", 2), ("large", 1), ("large", 2)],
            shares.Select(share => (share.Part.Machine, share.Part.Number)));
        Assert.Equal("run-large-2.json", ShareFile.RunNameOf(shares[3]));
        Assert.Single(shares.Select(share => share.Part.Plan).Distinct());
        Assert.Equal(shares[0].Part.Plan, Share.Cut(whole, studies, 2)[0].Part.Plan);
        Assert.NotEqual(shares[0].Part.Plan, Share.Cut(whole with { Plan = new RunPlan { Seed = 4 } }, studies, 2)[0].Part.Plan);
        Assert.NotEqual(shares[0].Part.Plan, Share.Cut(whole, studies, 1)[0].Part.Plan);
    }

    [Fact]
    public void A_share_is_read_as_it_was_written_and_anything_else_is_refused_with_the_way_out()
    {
        var share = Share.Cut(Whole, [Study("a * b")], 1)[0];
        var path = Path.Combine(_folder, ShareFile.NameOf(share));
        ShareFile.Write(share, path);
        var (stranger, newer, cut) = (Path.Combine(_folder, "x.json"), Path.Combine(_folder, "y.json"), Path.Combine(_folder, "z.json"));
        File.WriteAllText(stranger, "{}");
        File.WriteAllText(newer, File.ReadAllText(path).Replace("\"version\": 1", "\"version\": 9", StringComparison.Ordinal));
        File.WriteAllText(cut, """{ "format": "tachyscope-share", "part": 3 }""");

        var read = ShareFile.Read(path);

        Assert.Equivalent(share, read, strict: true);
        Assert.True(ShareFile.IsOne(path));
        Assert.False(ShareFile.IsOne(stranger));
        Assert.Contains("x.json is no share of a plan; name a file that tachyscope plan wrote", Refusal(stranger),
            StringComparison.Ordinal);
        Assert.Contains("y.json: version 9 is none that this tool reads, which is 1", Refusal(newer), StringComparison.Ordinal);
        Assert.Matches(@"z.json, line 1, \$\.part.*: it cannot be read; plan again\.", Refusal(cut));
        Assert.Contains("cannot be read: ", Refusal(Path.Combine(_folder, "nowhere.json")), StringComparison.Ordinal);

        static string Refusal(string path) => Assert.Throws<InvalidDataException>(() => ShareFile.Read(path)).Message;
    }

    [Fact]
    public void Shares_are_joined_study_by_study_and_what_is_missing_is_listed()
    {
        ShareRun[] runs = [Taken("c", 3), Taken("a", 1),
            Taken("d", 4) with { Run = Taken("d", 4).Run with { State = RunState.Interrupted } }];

        var merged = ShareMerge.Of(runs);

        Assert.Equal(["a", "c", "d"], merged.Run!.Studies.Select(study => study.Study.Name));
        Assert.Equal(RunState.Interrupted, merged.Run.State);
        Assert.Null(merged.Run.Share);
        Assert.Equal([2], merged.Missing.Select(share => share.Number));
        Assert.Equal([4], merged.Cut.Select(share => share.Number));
        Assert.Empty(merged.Run.Targets);
    }

    [Fact]
    public void A_share_that_was_run_again_takes_the_place_of_the_one_that_failed()
    {
        var failed = Taken("a", 1) with { File = "old", Run = Taken("nothing", 1).Run with { State = RunState.Running } };

        var merged = ShareMerge.Of([failed, Taken("a", 1), Taken("b", 2), Taken("c", 3), Taken("d", 4)]);

        Assert.Equal(["a", "b", "c", "d"], merged.Run!.Studies.Select(study => study.Study.Name));
        Assert.Equal(RunState.Complete, merged.Run.State);
    }

    [Fact]
    public void Kinds_of_machine_become_targets_in_the_order_of_the_plan()
    {
        ShareRun[] runs = [Taken("a", 1, "large"), Taken("a", 1, "small"), Taken("b", 2, "large")];

        var merged = ShareMerge.Of(runs, ["small", "large"]);

        Assert.Equal([("small", "small core"), ("large", "large core")],
            merged.Run!.Targets.Select(target => (target.Name, target.Machine!.Processor)));
        var study = merged.Run.Studies[0];
        Assert.Equal([1, 2], study.Sittings.Select(sitting => sitting.Number));
        Assert.Equal([0, 1], study.Sittings.Select(sitting => Assert.Single(sitting.Cells.Select(cell => cell.Target).Distinct())));
        Assert.Equal([[1_200], [0, 1_200]], study.Sittings.Select(sitting => sitting.LowGauges));
        Assert.Equal([0, 1], study.Failures.Select(failure => failure.Target));
        Assert.Equal([(1, CellFailureKind.Threw), (0, CellFailureKind.Missing), (0, CellFailureKind.Missing)],
            merged.Run.Studies[1].Failures.Select(failure => (failure.Target, failure.Kind)));
        Assert.Equal([("small", 2), ("small", 3), ("small", 4), ("large", 3), ("large", 4)],
            merged.Missing.Select(share => (share.Machine, share.Number)));
    }

    [Fact]
    public void Several_targets_on_several_kinds_of_machine_are_all_beside_each_other()
    {
        ShareRun Both(string machine) => Taken("a", 1, machine) is var taken ? taken with
        {
            Run = taken.Run with
            {
                Targets = [.. ((string[])["net8.0", "net10.0"])
                    .Select(name => new TargetDescription { Name = name, Environment = taken.Run.Environment })],
            },
        } : taken;

        var merged = ShareMerge.Of([Both("small"), Both("large")], ["small", "large"]);

        Assert.Equal(["small · net8.0", "small · net10.0", "large · net8.0", "large · net10.0"],
            merged.Run!.Targets.Select(target => target.Name));
        Assert.Equal([0, 2], merged.Run.Studies[0].Sittings.Select(sitting => sitting.Cells[0].Target));
    }

    [Fact]
    public void What_a_row_answers_on_another_kind_of_machine_is_held_against_the_first()
    {
        static ShareRun Answering(string machine, params AnswerDigest?[] answers) => Taken("a", 1, machine) is var taken ? taken with
        {
            Run = taken.Run with
            {
                Studies = [taken.Run.Studies[0] with
                {
                    Study = taken.Run.Studies[0].Study with { Tolerance = 0 }, Failures = [],
                    Answers = [.. answers.Select((answer, row) => new CellAnswer { Variant = row, Input = 0, Answer = answer })],
                }],
            },
        } : taken;
        AnswerDigest seven = new("7", "aa"), eight = new("8", "bb");

        static StudyRecord Merged(params ShareRun[] runs) => ShareMerge.Of(runs, ["small", "large"]).Run!.Studies[0];
        var merged = Merged(Answering("large", seven, eight), Answering("small", seven, seven));
        var untold = Merged(Answering("large", seven, null), Answering("small", seven, seven));
        var alone = Merged(Answering("large", seven, eight));
        var knownToFail = new CellFailure { Variant = 1, Input = 0, Kind = CellFailureKind.Threw, Reason = "threw" };
        var failed = Merged(Answering("large", seven, eight) is var large ? large with
        {
            Run = large.Run with { Studies = [large.Run.Studies[0] with { Failures = [knownToFail] }] },
        } : large, Answering("small", seven, seven));

        Assert.Equal((1, 0, 1, CellFailureKind.Disagrees, "answers 8 where it answers 7 on small"), Assert.Single(merged.Failures
            .Select(failure => (failure.Variant, failure.Input, failure.Target, failure.Kind, failure.Reason))));
        Assert.Equal((1, "its answer was not told by large"),
            Assert.Single(untold.Observations.Select(seen => (seen.Target, seen.Evidence))));
        Assert.Empty(alone.Failures);
        Assert.Equal([knownToFail with { Target = 1 }], failed.Failures);
        // They are kept to be compared with other runs, the long ones in short.
        Assert.Equal([0, 0, 1, 1], merged.Answers!.Select(answer => answer.Target));
        var many = Merged(Answering("large", seven with { Numbers = [.. Enumerable.Range(0, 1_001)] }, seven with { Numbers = [7] }));
        Assert.Equal([null, 1], many.Answers!.Select(answer => answer.Answer!.Numbers?.Count));
        var paths = Merged(Answering(
            "large", new AnswerDigest("\"/home/keeper/lamps/fog.txt\"", "aa"), new AnswerDigest("[C:\\keeper\\a, 1/2]", "bb")));
        Assert.Equal(["\"…/fog.txt\"", "[…/a, 1/2]"], paths.Answers!.Select(answer => answer.Answer!.Text));
    }

    [Fact]
    public void What_does_not_belong_together_is_refused()
    {
        var (one, two) = (Taken("a", 1), Taken("b", 2));
        ShareRun Changed(Func<Run, Run> change) => two with { Run = change(two.Run) };
        string Problem(params ShareRun[] runs) => Assert.Single(ShareMerge.Of(runs).Problems);

        Assert.Equal("there is no run to merge; measure shares with tachyscope run --share first.", Problem());
        Assert.Equal("run-b is a run of its own and no share of a plan; name what tachyscope run --share wrote.",
            Problem(one, Changed(run => run with { Share = null })));
        Assert.Equal("run-a belongs to plan p, and run-b belongs to plan q; merge the shares of one plan at a time.",
            Problem(one, Changed(run => run with { Share = run.Share! with { Plan = "q" } })));
        Assert.Equal("run-a was measured by tachyscope 1.0, and run-b was measured by tachyscope 2.0; measure all with one version.",
            Problem(one, Changed(run => run with { Tool = "2.0" })));
        Assert.StartsWith("run-a was measured at commit 0123, and run-b was measured at commit 4567; ",
            Problem(one, Changed(run => run with { Code = new CodeState { Commit = "4567" } })));
        Assert.Equal("run-a and again are the same share; name one of them.", Problem(one, one with { File = "again" }));
        var unlike = Changed(run => run with { Machine = run.Machine with { Processor = "other core" } });
        Assert.Equal("run-a was measured on one core, and run-b on other core; plan with a --machine for each kind, or merge all the "
            + "same with "
            + "--insist.", Problem(one, unlike));
        Assert.NotNull(ShareMerge.Of([one, unlike], isInsisted: true).Run);
        Assert.Equal("study \"a\" has other rows or inputs in run-b than in run-a; measure all from the same sources.",
            Problem(one, Changed(run => run with { Studies = [Record(Study("a", inputs: 2))] })));
    }

    private static StudyDescription Study(string name, int inputs = 1) => new()
    {
        Name = name, Agreement = "exactly",
        Inputs = [.. Enumerable.Range(0, inputs)
            .Select(input => new InputDescription { Label = FormattableString.Invariant($"i{input}") })],
        Variants = [new() { Name = "steady", Variant = "steady", IsBaseline = true }, new() { Name = "quick", Variant = "quick" }],
    };

    private static StudyRecord Record(StudyDescription study) => new()
    {
        Study = study,
        Failures = [new CellFailure { Variant = 1, Input = 0, Kind = CellFailureKind.Threw, Reason = "threw" }],
        Sittings = [new SittingRecord
        {
            Number = 1, Seed = 1, Cells = [new() { Kind = CellKind.Variant, Variant = 0, Input = 0 }], WarmUps = [], WarmUpMilliseconds = 0,
            IsPinned = true, Rounds = 1, Readings = [], LowGauges = [1_200],
        }],
    };

    private static ShareRun Taken(string study, int number, string? machine = null) => new($"run-{study}", new Run
    {
        Tool = "1.0", Started = DateTimeOffset.UnixEpoch, State = RunState.Complete, Plan = new RunPlan { Only = [study] },
        Machine = new() { Processor = $"{machine ?? "one"} core", ProcessorCount = 2, OperatingSystem = "Harbour" },
        Environment = new() { Runtime = ".NET 10.0.0", Architecture = "x64", IsOptimized = true, Processors = [0] },
        Code = new CodeState { Commit = "0123" },
        Share = new RunShare { Plan = "p", Number = number, Count = 4, Machine = machine },
        Studies = [Record(Study(study))],
    });
}
