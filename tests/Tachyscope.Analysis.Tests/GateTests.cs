using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Tests;

public sealed class GateTests
{
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

    private static GateCell Cell(double lower, double upper, double bytes = 24)
        => new("lamps", "steady", "a lamp", new Interval(double.IsFinite(lower) ? (lower + upper) / 2 : double.NaN, lower, upper, 0.95),
            24, bytes);
}
