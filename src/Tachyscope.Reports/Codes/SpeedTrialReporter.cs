using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Reasons;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Codes;

/// <summary>Puts into words what has a part in the several speeds of a study's rows, and what was tried and has none. Pure.</summary>
public static class SpeedTrialReporter
{
    /// <summary>The rows in .NET that settle at several speeds, with the label of the input they do on.</summary>
    /// <param name="study">A study as it was measured.</param>
    public static IReadOnlyList<(string Input, CellFindings Row)> Rows(StudyFindings study)
    {
        ArgumentNullException.ThrowIfNull(study);
        return [.. All(study).Where(cell => cell.Row.Speeds.Count > 1 && cell.Row.Variant.Guest is null)];
    }

    /// <summary>Why nothing is tried where there are no such rows.</summary>
    /// <param name="study">The study as it was measured.</param>
    public static string OfNone(StudyFindings study)
    {
        ArgumentNullException.ThrowIfNull(study);
        var none = All(study).Any(cell => cell.Row.Speeds.Count > 1)
            ? "only guests have several, and what would be tried are switches of .NET"
            : "every row that was looked at has one speed, so that nothing is to be tried";
        return $"{Tone.Aside.Sign()} {SpeedText.TooFew(study) ?? none}";
    }

    /// <summary>What is told of the rows, a line each.</summary>
    /// <param name="rows">The rows, as they were found to have several speeds.</param>
    /// <param name="plain">The study measured as it is beside what was tried.</param>
    /// <param name="tried">What was tried, and the study measured so.</param>
    public static IReadOnlyList<string> Of(
        IReadOnlyList<(string Input, CellFindings Row)> rows, StudyFindings plain,
        IReadOnlyList<(string What, StudyFindings Findings)> tried)
    {
        ArgumentNullException.ThrowIfNull(rows);
        return [.. from row in rows from trial in tried select Line(row, Same(plain, row), trial.What, Same(trial.Findings, row))];
    }

    private static string Line((string Input, CellFindings Row) row, CellFindings? plain, string what, CellFindings? tried)
    {
        var head = $"{row.Row.Variant.Name} · {row.Input} with {what}";
        if (plain is null || tried is null || plain.Placements == 0 || tried.Placements == 0)
        {
            return $"{Tone.Open.Sign()} {head}: open, as there was too little to be read";
        }

        if (plain.Speeds.Count < 2)
        {
            return $"{Tone.Aside.Sign()} {head}: open – {Speeds(tried)}; but as it is, it had one speed this time, {Speeds(plain)}";
        }

        var (verdict, was) = (SpeedJudge.Of(plain, tried), $"as it is {Speeds(plain)}");
        return verdict switch
        {
            ProbeVerdict.Supported => $"{Tone.Good.Sign()} {head}: supported – {Speeds(tried)}; {was}",
            ProbeVerdict.NotSupported => $"{Tone.Open.Sign()} {head}: not supported – {Speeds(tried)}; {was}",
            _ => $"{Tone.Aside.Sign()} {head}: open – {Speeds(tried)}, which may be luck; {was}",
        };
    }

    // "77.2 ns in 9 of 14 and 125 ns in 5", or "77.2 ns in all 14".
    private static string Speeds(CellFindings cell) => cell.Speeds.Count == 0
        ? Wording.Invariant($"{Quantity.Time(cell.NanosecondsPerCall.Estimate)} in all {cell.Placements}")
        : Wording.List([.. cell.Speeds.Select((speed, index) =>
            Wording.Invariant($"{Quantity.Time(speed.NanosecondsPerCall.Estimate)} in {speed.Placements}")
                + (index == 0 ? Wording.Invariant($" of {cell.Placements}") : ""))], "and");

    private static CellFindings? Same(StudyFindings study, (string Input, CellFindings Row) row)
        => All(study).FirstOrDefault(cell => (cell.Input, cell.Row.Row) == (row.Input, row.Row.Row)).Row;

    private static IEnumerable<(string Input, CellFindings Row)> All(StudyFindings study)
        => study.Inputs.SelectMany(input => input.Cells.Select(cell => (input.Input.Label, cell)));
}
