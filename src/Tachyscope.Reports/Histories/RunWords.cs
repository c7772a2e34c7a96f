using System.Globalization;
using Tachyscope.Analysis.Histories;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Histories;

/// <summary>How a run of a history is spoken of.</summary>
public static class RunWords
{
    private const int CommitLetters = 8;

    /// <summary>Its name in a sentence, such as "run 12 (before the change)"; the path of its file where it is in no history.</summary>
    /// <param name="run">The run.</param>
    public static string Name(RunSummary run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var label = run.Label is null ? "" : $" ({run.Label})";
        return run.Id == 0 ? run.Label ?? "a run" : FormattableString.Invariant($"run {run.Id}{label}");
    }

    /// <summary>When it was measured, in universal time.</summary>
    /// <param name="run">The run.</param>
    public static string When(RunSummary run)
    {
        ArgumentNullException.ThrowIfNull(run);
        return run.Started.UtcDateTime.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
    }

    /// <summary>Which code it measured, such as "0123abcd on main, with changes"; empty where nothing tells.</summary>
    /// <param name="run">The run.</param>
    public static string Code(RunSummary run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var (commit, branch) = (run.Code.Commit, run.Code.Branch);
        return commit is null ? ""
            : $"{Commit(commit)}{(branch is null ? "" : $" on {branch}")}{(run.Code.IsDirty ? ", with changes" : "")}";
    }

    /// <summary>A commit as it is written where it need only be told from others.</summary>
    /// <param name="commit">Its full name.</param>
    public static string Commit(string commit)
    {
        ArgumentNullException.ThrowIfNull(commit);
        return commit[..Math.Min(CommitLetters, commit.Length)];
    }

    /// <summary>By what its work is another, such as "another answer, 42 → 57".</summary>
    internal static string Work(WorkDifference work) => work.IsInput ? "another input"
        : work.Before is null || work.Now is null || work.Before == work.Now ? "another answer"
        : $"another answer, {work.Before} → {work.Now}";

    internal static string Cell(CellSummary cell)
        => $"{cell.Variant} · {cell.Input}{(cell.Target.Length == 0 ? "" : $" · {cell.Target}")}";

    internal static string Counted(long count, string of) => $"{Quantity.Count(count)} {of}{(count == 1 ? "" : "s")}";
}
