namespace Tachyscope.Reports.Overviews;

/// <summary>A caveat in one line: its name and what it is about.</summary>
/// <param name="Caveat">Its name, as listed in docs/caveats.md.</param>
/// <param name="About">What it is about, the first of many; the evidence where it is about the whole study.</param>
/// <param name="IsNote">Whether it tells what figures stand for, and gives no reason to doubt them.</param>
public sealed record Doubt(string Caveat, string About, bool IsNote)
{
    /// <summary>The same as a line of plain text.</summary>
    public string Statement => $"{(IsNote ? "note" : "caveat")} {Caveat}: {About}";
}
