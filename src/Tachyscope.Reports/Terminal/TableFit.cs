using Spectre.Console;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>
/// Which columns of a study's tables fit beside each other, and how wide each is: figures take what they need, marks what is left.
/// </summary>
internal sealed class TableFit
{
    public const int Indent = 2;
    public const int Gap = 2;

    private const int LongestName = 34;
    private const int ShortName = 18;
    private const int ShortestName = 10;
    private const int WidestMarks = 40;
    private const int NarrowestMarks = 8;

    // Columns that say in other figures what the marks show make room for these.
    private const int ComfortableMarks = 18;
    private const int MarksRank = 2;

    private readonly StudyRow[] _rows;
    private readonly IReadOnlyList<StudyColumn> _columns;
    private readonly List<int> _shown;

    public TableFit(IReadOnlyList<StudyTable> tables, int width, string title = "variant")
    {
        _rows = [.. tables.SelectMany(table => table.Rows)];
        _columns = tables.Count == 0 ? [] : tables[0].Columns;
        var hasMarks = tables.Any(table => table.Scale is not null);
        _shown = [.. Enumerable.Range(0, _columns.Count).Where(index => hasMarks || _columns[index].Kind != ColumnKind.Marks)];
        Name = Math.Min(width >= TerminalConsole.PlainWidth ? width : LongestName, Widest(_rows.Select(row => row.Variant), title));
        var isChosen = tables.Count > 0 && tables[0].AreColumnsChosen;
        if (!isChosen)
        {
            Drop(rank => rank > MarksRank, width - ComfortableMarks + NarrowestMarks);
        }

        IsNarrow = Needed() > width;
        Squeeze(ShortName, width);
        // The mark shows how far it reaches.
        IsReachDrawn = IsNarrow && Needed() > width && _shown.Exists(IsMarks);
        if (!isChosen)
        {
            Drop(rank => rank > 0, width);
        }

        while (isChosen && Needed() > width
            && _shown.FindLastIndex(column => _columns[column].Kind == ColumnKind.Figure) is >= 0 and var last)
        {
            _shown.RemoveAt(last);
        }

        Squeeze(ShortestName, width);

        IsReachDrawn &= _shown.Exists(IsMarks);
        Marks = _shown.Exists(IsMarks) ? Math.Clamp(width - Needed() + NarrowestMarks, NarrowestMarks, WidestMarks) : 0;
        Below = isChosen ? [.. Enumerable.Range(0, _columns.Count)
            .Where(index => _columns[index].Kind == ColumnKind.Figure && !_shown.Contains(index))] : [];
    }

    public int Name { get; private set; }

    public int Marks { get; }

    /// <summary>Whether factors go without the reach of their interval, under short headings.</summary>
    public bool IsNarrow { get; }

    /// <summary>Whether times go without the reach of their interval too, which is drawn.</summary>
    public bool IsReachDrawn { get; private set; }

    /// <summary>Indices of the columns, left to right.</summary>
    public IReadOnlyList<int> Shown => _shown;

    /// <summary>Columns that were asked for and stand below, since they do not fit.</summary>
    public IReadOnlyList<int> Below { get; }

    public int Width(int column) => _columns[column].Kind switch
    {
        ColumnKind.Marks => Marks,
        ColumnKind.Verdict => Widest(_rows.Select(row => $"x {row.Verdict}"), Heading(column)),
        _ => Widest(_rows.Select(row => Text(row, column)), Heading(column)),
    };

    public string Heading(int column) => IsNarrow ? _columns[column].ShortHeading : _columns[column].Heading;

    public string Text(StudyRow row, int column)
        => (IsNarrow && _columns[column].Key == "factor") || (IsReachDrawn && _columns[column].Key == "time")
            ? WithoutReach(row.Figures[column])
            : row.Figures[column];

    private static string WithoutReach(string factor)
    {
        var reach = factor.IndexOf(" ±", StringComparison.Ordinal);
        return reach < 0 ? factor : factor[..reach];
    }

    private bool IsMarks(int column) => _columns[column].Kind == ColumnKind.Marks;

    private int Needed() => Indent + Name + _shown.Sum(column => Gap + (IsMarks(column) ? NarrowestMarks : Width(column)));

    private void Drop(Func<int, bool> mayGo, int width)
    {
        while (Needed() > width && _shown.Where(column => mayGo(_columns[column].Rank)).ToList() is { Count: > 0 } candidates)
        {
            _shown.Remove(candidates.MaxBy(column => _columns[column].Rank));
        }
    }

    private void Squeeze(int least, int width) => Name = Math.Max(Math.Min(Name, least), Name - Math.Max(0, Needed() - width));

    private static int Widest(IEnumerable<string> texts, string heading)
        => Math.Max(heading.GetCellWidth(), texts.Select(text => text.GetCellWidth()).DefaultIfEmpty(0).Max());
}
