using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

public sealed class GateTests
{
    private const int Runs = 300;

    [Theory]
    [InlineData(0.98, 1.019, GateAnswer.Kept)]
    [InlineData(0.5, 0.9, GateAnswer.Kept)]
    [InlineData(1.021, 1.1, GateAnswer.Slower)]
    [InlineData(1.0, 1.1, GateAnswer.Unclear)]
    [InlineData(double.NegativeInfinity, double.PositiveInfinity, GateAnswer.Unclear)]
    public void A_cell_is_slower_or_kept_only_where_that_is_shown(double lower, double upper, GateAnswer answer)
    {
        var judged = Assert.Single(GateJudgement.Of([Cell(lower, upper)], [new GateRule()]));

        Assert.Equal((answer, answer == GateAnswer.Slower), (judged.Answer, judged.IsFailure));
    }

    [Fact]
    public void The_last_rule_that_is_for_a_cell_holds()
    {
        GateRule[] rules =
        [
            new(), new() { Cells = "lamps", MarginShare = 0.2 }, new() { Cells = "lamps · quick", IsUnclearFailure = true },
            new() { Cells = "* · a fog horn", IsMoreAllocationAllowed = true },
        ];

        var judged = GateJudgement.Of(
            [Cell(1.05, 1.1), Cell(1, 1.1) with { Variant = "quick" }, Cell(1.05, 1.1) with { Study = "fog" },
                Cell(0.9, 1, 48) with { Input = "a fog horn" },
                Cell(0.9, 1, 48), Cell(0.9, 1, 23)], rules);

        Assert.Equal([GateAnswer.Kept, GateAnswer.Unclear, GateAnswer.Slower, GateAnswer.Kept, GateAnswer.Kept, GateAnswer.Kept],
            judged.Select(cell => cell.Answer));
        Assert.Equal([false, true, true, false, true, false], judged.Select(cell => cell.IsFailure));
    }

    /// <summary>
    /// Three operations, read by one end of their intervals: about one gate in twenty errs where code is as much slower as is allowed, by
    /// either answer, and none where nothing changed; whether all of them, many or none end before their time for being narrow.
    /// </summary>
    [Theory]
    [InlineData(1.02, 0.003)]
    [InlineData(1.02, 0.006)]
    [InlineData(1.02, 0.012)]
    [InlineData(1, 0.006, 0, 0.005)]
    public void Code_within_its_margin_closes_no_more_gates_than_their_level_says(
        double slowness, double deviation, double least = 0.02, double most = 0.07)
    {
        const int Last = 12;
        const double Precision = 0.01;
        var simulator = new RunSimulator { Times = [100, 50, 70], Bytes = [0, 0, 0], Slowness = [1, slowness],
            SittingDeviation = deviation, Sittings = Last, Rounds = 4 };
        StudyOnTargets Examine(Run run, int sittings)
            => TargetAnalyst.Examine(run, run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Take(sittings)] },
                new AnalysisOptions { AreContrastsOnly = true });

        var judged = Enumerable.Range(0, Runs).AsParallel()
            .Select(seed => simulator.Make(seed) with { Plan = new() { PrecisionShare = Precision } })
            .Select(run => ((int[])[6, 9, Last]).Select(sittings => Examine(run, sittings))
                .First(found => found.IsPreciseAcross(Precision) || found.Targets[0].Sittings == Last))
            .Select(found => GateJudgement.Of(GateCell.Of([found]), [new GateRule()])).ToList();

        Assert.InRange(Share(GateAnswer.Slower), least, most);
        Assert.True(slowness == 1 || Share(GateAnswer.Kept) is var kept && kept >= least && kept <= most, "kept");

        double Share(GateAnswer answer) => judged.Count(cells => cells.Any(cell => cell.Answer == answer)) / (double)Runs;
    }

    private static GateCell Cell(double lower, double upper, double bytes = 24)
        => new("lamps", "steady", "a lamp", new Interval(double.IsFinite(lower) ? (lower + upper) / 2 : double.NaN, lower, upper, 0.95),
            24, bytes);
}
