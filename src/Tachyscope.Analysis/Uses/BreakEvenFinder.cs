using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Uses;

/// <summary>
/// Finds after how many uses preparing pays, for each pair of rows of which one prepares; all times with collections paid.
/// </summary>
internal sealed class BreakEvenFinder(SittingsView view, int input, IReadOnlyList<int> rows, InputContrasts contrasts)
{
    private readonly IReadOnlyList<VariantDescription> _variants = view.Record.Study.Variants;

    public IEnumerable<BreakEven> Find()
    {
        var uses = rows.Where(row => _variants[row].Part != VariantPart.Prepare && view.Failure(row, input) is null).ToList();
        return from row in uses
               where Preparation(row) is not null
               from other in uses
               where other != row && _variants[other].Loop.Threads == _variants[row].Loop.Threads
               let prepared = Preparation(row)!
               let against = Preparation(other)
               where against is null || Cost(prepared.Value).CompareTo(Cost(against.Value)) > 0
               select Between((row, prepared.Value), (other, against));
    }

    private int? Preparation(int row)
        => _variants[row].Part != VariantPart.Use ? null : rows.Cast<int?>().FirstOrDefault(other =>
            _variants[other!.Value].Part == VariantPart.Prepare && _variants[other.Value].Variant == _variants[row].Variant
            && view.Failure(other.Value, input) is null);

    // Of two that cost the same to prepare, the one defined later counts as dearer.
    private (double Nanoseconds, int Row) Cost(int preparation) => (SampleStatistics.Mean(Times(preparation)), preparation);

    // What takes at most so much stands as that.
    private double[] Times(int row)
        => view.AtMost(row, input) is { } most ? [.. Enumerable.Repeat(most, view.Sittings)] : view.PaidTimes(row, input);

    private BreakEven Between((int Row, int Prepared) own, (int Row, int? Prepared) other)
    {
        var prepared = Times(own.Prepared);
        var dearer = other.Prepared is { } preparation ? Pairing.Difference(prepared, Times(preparation)) : prepared;
        var saved = Pairing.Difference(Times(other.Row), Times(own.Row));
        var (first, each) = (
            SampleStatistics.MeanInterval(Pairing.Difference(dearer, saved), view.Level), SampleStatistics.MeanInterval(saved, view.Level));
        return new BreakEven
        {
            Row = own.Row,
            Other = other.Row,
            Uses = Fieller.Ratio(dearer, saved,
                view.Level) with { Bound = view.AtMost(own.Row, input) is null ? Bound.None : Bound.AtMost },
            // Where no use is shown to be faster, what it saves is no more than noise.
            Answer = contrasts.Verdict(own.Row, other.Row) is Verdict.Same or Verdict.Unclear || !each.IsBounded ? BreakEvenAnswer.Unclear
                : each.Upper <= 0 ? BreakEvenAnswer.Never
                : each.Lower <= 0 ? BreakEvenAnswer.Unclear
                : first.Upper <= 0 ? BreakEvenAnswer.Always
                : BreakEvenAnswer.After,
        };
    }
}
