using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Histories;

namespace Tachyscope.Reports.Tests;

public sealed class GateReporterTests
{
    [Theory]
    [InlineData(1.06, 1.024, 1.1, "got slower, × 1.06, at least 2.4 % more time, where 2.0 % is allowed")]
    [InlineData(2.41, 2.35, 2.5, "got slower, × 2.41, at least 135 % more time, where 2.0 % is allowed")]
    [InlineData(1.05, 0.998, 1.11, "is not told, 0.2 % less to 11.0 % more time, where 2.0 % is allowed")]
    [InlineData(1.05, double.NegativeInfinity, double.PositiveInfinity, "is not told, × 1.05 ± ?, where 2.0 % is allowed")]
    [InlineData(double.NaN, double.NegativeInfinity, double.PositiveInfinity, "is not told, where 2.0 % is allowed")]
    public void What_closes_a_gate_is_told_by_the_end_that_decides(double ratio, double lower, double upper, string told)
    {
        var judged = GateJudgement.Of(
            [new GateCell("lamps", "quick", "a lamp", new Interval(ratio, lower, upper, 0.95), 0, 0)],
            [new GateRule { IsUnclearFailure = true }]);

        Assert.Equal(told, Assert.Single(GateReporter.Objections(judged[0])).Text);
    }

    [Fact]
    public void What_is_not_told_is_named_with_what_it_may_be()
    {
        var judged = GateJudgement.Of([new GateCell("lamps", "quick", "a lamp", new Interval(1.05, 1.001, 1.11, 0.95), 0, 0)],
            [new GateRule()]);

        var report = GateReporter.Of(judged, "main", []);

        Assert.Equal(
            ["not told: lamps · quick · a lamp 0.1 % more to 11.0 % more time",
                "open: 0 of 1 cell shown to be no slower than allowed against main, 1 not told in the time allowed"],
            report.Parts[0].Sentences.Select(sentence => sentence.Text));
    }
}
