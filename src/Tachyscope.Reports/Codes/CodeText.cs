namespace Tachyscope.Reports.Codes;

/// <summary>A piece of code, or two beside each other.</summary>
/// <param name="Title">What it is.</param>
/// <param name="Left">Whose the left one is; empty when there is one only.</param>
/// <param name="Right">Whose the right one is; null when there is one only.</param>
/// <param name="Rows">Its lines.</param>
public sealed record CodeText(string Title, string Left, string? Right, IReadOnlyList<CodeRow> Rows);

/// <summary>A line of code, or one on either side.</summary>
/// <param name="Left">The line on the left; null where there is none.</param>
/// <param name="Right">The line on the right; null where there is none, and where there is one code only.</param>
/// <param name="Kind">What it is.</param>
public sealed record CodeRow(string? Left, string? Right, CodeRowKind Kind);

/// <summary>What a line of code is.</summary>
public enum CodeRowKind
{
    /// <summary>The user's.</summary>
    Plain,

    /// <summary>The instrument's own: what measures, and not what is measured.</summary>
    Instrument,

    /// <summary>Not the same on both sides.</summary>
    Different,
}
