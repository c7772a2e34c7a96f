using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Histories;

namespace Tachyscope.Reports.Tests;

public sealed class PinpointReporterTests
{
    private static readonly PinpointFindings Found = new()
    {
        Study = "lamps", Cell = "sorted · 64 lamps", Good = "v1.2", Bad = "main", TimeRatio = Ratio(1.12), WholeRatio = Ratio(1.13),
        Before = "0123456789abcdef", Commit = "fedcba9876543210", Date = "2026-11-03", Subject = "Sort by bearing", Commits = 60,
            Measured = 8,
    };

    [Fact]
    public void A_commit_that_is_found_is_named_with_what_it_did_and_how_to_see_it_closer()
    {
        Assert.Equal(["Bad: sorted · 64 lamps got slower, × 1.120 ± 0.011, with fedcba98 of 2026-11-03: \"Sort by bearing\""],
            Sentences(Found));
        Assert.Equal(
            ["60 commits after v1.2: 8 measured", "seen closer with: tachyscope duel fedcba98~1 fedcba98 --only \"lamps\""],
            PinpointReporter.Of(Found).Notes);
        Assert.Equal("seen closer with: tachyscope duel fedcba98~1 fedcba98 \"sea chart/study\" --study now --only \"lamps\"",
            PinpointReporter.Of(Found with { Project = "sea chart/study", StudyRevision = "now" }).Notes[^1]);
        Assert.Equal(["Good: sorted · 64 lamps allocates less, 32 B → 24 B, with fedcba98 of 2026-11-03: \"Sort by bearing\""],
            Sentences(Found with { IsByBytes = true, BytesBefore = 32, Bytes = 24, WholeBytesBefore = 32, WholeBytes = 24 }));
    }

    [Fact]
    public void What_could_not_be_told_in_between_leaves_a_range_with_every_reason()
    {
        var untold = Found with { Untold = [("aaaaaaaabb", "does not build"), ("bbbbbbbbcc", "does not build")], Open = 3 };

        Assert.False(untold.IsFound);
        Assert.Equal(
            [
                "Open: sorted · 64 lamps got slower, × 1.120 ± 0.011, between 01234567 and fedcba98",
                "Failed: aaaaaaaa and bbbbbbbb: does not build",
                "Open: 3 commits in between may be the one as well; raise --within",
            ], Sentences(untold));
    }

    [Fact]
    public void A_part_of_the_change_a_merge_and_a_step_that_is_not_sure_are_said_as_such()
    {
        Assert.Contains("Open: that is 43.2 % of the change from v1.2 to main, × 1.300 ± 0.013; the rest came with others, so look on "
            + "either side "
            + "of it too", Sentences(Found with { WholeRatio = Ratio(1.3) }));
        Assert.Contains("Open: it is a merge; what it brought is searched with tachyscope pinpoint $(git merge-base fedcba98^1 fedcba98^2) "
            + "fedcba98^2 study --study own", Sentences(Found with { IsMerge = true, Project = "study" }));
        var unsure = Found with { TimeRatio = Ratio(1.005) };
        Assert.False(unsure.IsFound);
        Assert.Equal(
            ["Open: sorted · 64 lamps cannot be pinned to a commit: the step from 01234567 to fedcba98, × 1.005 ± 0.010, is not sure "
                + "by itself"],
            Sentences(unsure));
    }

    private static Interval Ratio(double ratio) => new(ratio, ratio * 0.99, ratio * 1.01, 0.95);

    private static IEnumerable<string> Sentences(PinpointFindings found)
        => PinpointReporter.Of(found).Parts[0].Sentences.Select(sentence => $"{sentence.Tone}: {sentence.Text}");
}
