using Tachyscope.Analysis.Payoffs;

namespace Tachyscope.Reports.Studies;

/// <summary>What of a study is to be shown, and how.</summary>
public sealed record ReportOptions
{
    /// <summary>The defaults.</summary>
    public static ReportOptions Default { get; } = new();

    /// <summary>Order of a table's rows; as defined by default.</summary>
    public SortOrder Sort { get; init; }

    /// <summary>
    /// Columns of the tables, by their keys in <see cref="StudyColumn.Keys"/>; null for those that fit and tell something.
    /// </summary>
    public IReadOnlyList<string>? Columns { get; init; }

    /// <summary>What is shown beyond the decision and its table; nothing by default.</summary>
    public IReadOnlySet<Block> Shown { get; init; } = new HashSet<Block>();

    /// <summary>Given a study's own terms, how much it is used; those by default.</summary>
    public Func<PayoffTerms?, PayoffTerms?> Terms { get; init; } = declared => declared;

    internal bool Has(Block block) => Shown.Contains(block);
}
