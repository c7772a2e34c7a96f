using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Uses;

/// <summary>Finds after how many uses preparing pays, for each pair of rows of which one prepares.</summary>
internal static class BreakEvenFinder
{
    public static IEnumerable<BreakEven> Find(StudyView view, int input, IReadOnlyList<int> rows)
    {
        var variants = view.Record.Study.Variants;
        var uses = rows.Where(row => variants[row].Part != VariantPart.Prepare && view.Failure(row, input) is null).ToList();
        return from row in uses
               where Preparation(view, row, input, rows) is not null
               from other in uses
               where other != row && variants[other].Loop.Threads == variants[row].Loop.Threads
               let prepared = Preparation(view, row, input, rows)!
               let against = Preparation(view, other, input, rows)
               where against is null || Cost(view, input, prepared.Value).CompareTo(Cost(view, input, against.Value)) > 0
               select Between(view, input, (row, prepared.Value), (other, against));
    }

    private static int? Preparation(StudyView view, int row, int input, IReadOnlyList<int> rows)
    {
        var variants = view.Record.Study.Variants;
        return variants[row].Part != VariantPart.Use ? null : rows.Cast<int?>().FirstOrDefault(
            other => variants[other!.Value].Part == VariantPart.Prepare && variants[other.Value].Variant == variants[row].Variant && view.Failure(other.Value, input) is null);
    }

    // Of two that cost the same to prepare, the one defined later counts as dearer.
    private static (double Nanoseconds, int Row) Cost(StudyView view, int input, int preparation)
        => (SampleStatistics.Mean(view.Times(preparation, input)), preparation);

    private static BreakEven Between(StudyView view, int input, (int Row, int Prepared) own, (int Row, int? Prepared) other)
    {
        var prepared = view.Times(own.Prepared, input);
        var against = other.Prepared is { } preparation ? view.Times(preparation, input) : new double[prepared.Length];
        var dearer = StudyView.Difference(prepared, against);
        var saved = StudyView.Difference(view.Times(other.Row, input), view.Times(own.Row, input));
        var uses = Fieller.Ratio(dearer, saved, view.Level);
        var (first, each) = (SampleStatistics.MeanInterval(StudyView.Difference(dearer, saved), view.Level), SampleStatistics.MeanInterval(saved, view.Level));
        return new BreakEven
        {
            Row = own.Row,
            Other = other.Row,
            Uses = uses,
            Answer = !each.IsBounded ? BreakEvenAnswer.Unclear
                : each.Upper <= 0 ? BreakEvenAnswer.Never
                : each.Lower <= 0 ? BreakEvenAnswer.Unclear
                : first.Upper <= 0 ? BreakEvenAnswer.Always
                : BreakEvenAnswer.After,
        };
    }
}
