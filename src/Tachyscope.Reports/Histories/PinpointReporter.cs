using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Histories;

/// <summary>Says which commit changed a cell, or between which two it lies. Pure.</summary>
public static class PinpointReporter
{
    // Less than this of the whole is not what somebody was looking for alone.
    private const double NearlyAll = 0.75;
    private const int Named = 3;

    /// <summary>The whole of it.</summary>
    /// <param name="found">What the search came to.</param>
    /// <exception cref="ArgumentNullException"><paramref name="found"/> is null.</exception>
    public static HistoryReport Of(PinpointFindings found)
    {
        ArgumentNullException.ThrowIfNull(found);
        return new HistoryReport
        {
            Parts = [new HistoryPart(found.Study, [Answer(found), .. Doubts(found)], null, [])],
            Notes = [.. Notes(found)],
        };
    }

    private static (Tone Tone, string Text) Answer(PinpointFindings found)
    {
        var (before, commit) = (RunWords.Commit(found.Before), RunWords.Commit(found.Commit));
        if (!found.IsChangeSure)
        {
            var ratio = found.TimeRatio.IsKnown ? $", {Quantity.Factor(found.TimeRatio)}," : "";
            return (Tone.Open,
                $"{found.Cell} cannot be pinned to a commit: the step from {before} to {commit}{ratio} is not sure by itself");
        }

        var (isWorse, change) = Change(found);
        var where = found.IsFound ? $"with {commit} of {found.Date}: \"{found.Subject}\"" : $"between {before} and {commit}";
        return (found.IsFound ? isWorse ? Tone.Bad : Tone.Good : Tone.Open, $"{found.Cell} {change}, {where}");
    }

    private static (bool IsWorse, string Text) Change(PinpointFindings found)
    {
        var isWorse = found.IsByBytes ? found.Bytes > found.BytesBefore : found.TimeRatio.Estimate > 1;
        return (isWorse, found.IsByBytes
            ? $"allocates {(isWorse ? "more" : "less")}, {Quantity.Bytes(found.BytesBefore)} → {Quantity.Bytes(found.Bytes)}"
            : $"got {(isWorse ? "slower" : "faster")}, {Quantity.Factor(found.TimeRatio)}");
    }

    private static IEnumerable<(Tone Tone, string Text)> Doubts(PinpointFindings found)
    {
        foreach (var reason in found.Untold.GroupBy(commit => commit.Reason))
        {
            yield return (Tone.Failed,
                $"{Wording.Some(reason.Select(commit => RunWords.Commit(commit.Commit)), Named)}: {reason.Key}");
        }

        if (found.Open > 0)
        {
            yield return (Tone.Open, $"{RunWords.Counted(found.Open, "commit")} in between may be the one as well; raise --within");
        }

        if (found.IsChangeSure && found.ShareOfWhole < NearlyAll)
        {
            var whole = found.IsByBytes ? $"{Quantity.Bytes(found.WholeBytesBefore)} → {Quantity.Bytes(found.WholeBytes)}"
                : Quantity.Factor(found.WholeRatio);
            yield return (Tone.Open, $"that is {Quantity.Percent(found.ShareOfWhole)} of the change from {found.Good} to {found.Bad}, "
                + $"{whole}; the rest came with others, so look on either side of it too");
        }

        if (found is { IsFound: true, IsMerge: true })
        {
            var commit = RunWords.Commit(found.Commit);
            yield return (Tone.Open, "it is a merge; what it brought is searched with "
                + $"tachyscope pinpoint $(git merge-base {commit}^1 {commit}^2) {commit}^2{Place(found, "own")}");
        }
    }

    // As it was asked, so that it can be typed again.
    private static string Place(PinpointFindings found, string? own)
    {
        var project = found.Project == "." ? ""
            : found.Project.Contains(' ', StringComparison.Ordinal) ? $" \"{found.Project}\"" : $" {found.Project}";
        return (found.StudyRevision ?? own) is { } study ? $"{project} --study {study}" : project;
    }

    private static IEnumerable<string> Notes(PinpointFindings found)
    {
        var same = found.SameCode == 0 ? "" : $", {Quantity.Count(found.SameCode)} more of the same compiled code";
        yield return $"{RunWords.Counted(found.Commits, "commit")} after {found.Good}: {Quantity.Count(found.Measured)} measured{same}";
        if (found.IsFound)
        {
            var commit = RunWords.Commit(found.Commit);
            yield return $"seen closer with: tachyscope duel {commit}~1 {commit}{Place(found, null)} --only \"{found.Study}\"";
        }
    }
}
