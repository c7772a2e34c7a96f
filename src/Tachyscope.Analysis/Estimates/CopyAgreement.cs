using System.Runtime.CompilerServices;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Whether the further copies of a study's code are as fast as the first, but for chance. Framework code that calls back into the study is
/// shared by all copies, and optimised for the first, which is warmed alone: there the others tell of something else.
/// </summary>
/// <param name="Study">The study; without what further copies read, where they do not agree.</param>
/// <param name="Differing">Cells in which they do not, with how many times as long the others take.</param>
internal sealed record CopyAgreement(StudyRecord Study, IReadOnlyList<(int Variant, int Input, double TimeRatio)> Differing)
{
    // So strict, since every cell is looked at; and what placement alone does in few sittings is less.
    private const double StrictLevel = 0.999;
    private const double LeastDifference = 0.03;
    private const double CertainDifference = 0.4;
    private const int FewestSittings = 3;

    private static readonly ConditionalWeakTable<SittingRecord, SittingRecord> FirstOnly = [];

    /// <summary>Looks at the copies of a study.</summary>
    /// <param name="study">The study.</param>
    public static CopyAgreement Of(StudyRecord study)
    {
        var copied = study.Sittings.Where(sitting => sitting.Copies > 1).ToList();
        if (copied.Count == 0)
        {
            return new CopyAgreement(study, []);
        }

        var state = StudyCore.StateOf(study.Sittings);
        List<(int Variant, int Input, double TimeRatio)> differing = [.. copied
            .SelectMany(sitting => Logs(SittingFigures.Of(sitting, state)))
            .GroupBy(log => (log.Variant, log.Input, log.Target), log => log.Others)
            .Where(cell => IsApart([.. cell])).OrderBy(cell => cell.Key)
            .Select(cell => (cell.Key.Variant, cell.Key.Input, Math.Exp(SampleStatistics.Mean([.. cell]))))];
        IReadOnlyList<SittingRecord> sittings = differing.Count == 0
            ? study.Sittings
            : [.. study.Sittings.Select(sitting => FirstOnly.GetValue(sitting, OfFirst))];
        return new CopyAgreement(study with { Sittings = sittings }, differing);
    }

    private static bool IsApart(double[] logs)
    {
        var difference = SampleStatistics.MeanInterval(logs, StrictLevel);
        return logs.Length < FewestSittings
            ? Math.Abs(difference.Estimate) > CertainDifference
            : Math.Abs(difference.Estimate) > LeastDifference && (difference.Lower > 0 || difference.Upper < 0);
    }

    // By how much the further copies are slower than the first, in logarithms.
    private static IEnumerable<(int Variant, int Input, int Target, double Others)> Logs(SittingFigures sitting)
    {
        for (var index = 0; index < sitting.Record.Cells.Count; index++)
        {
            var cell = sitting.Record.Cells[index];
            if (cell is { Kind: CellKind.Variant, Loop.Order: CallOrder.Chained } && sitting.Taken.HasCopies(index))
            {
                var copies = sitting.LogsByCopy(index, null);
                double[] others = [.. copies.Where(copy => copy.Copy > 0).Select(copy => SampleStatistics.MiddleHalf(copy.Logs))];
                if (copies.Count > 0 && copies[0].Copy == 0 && others.Length > 0)
                {
                    var first = SampleStatistics.MiddleHalf(copies[0].Logs);
                    yield return (cell.Variant, cell.Input, cell.Target, SampleStatistics.Mean(others) - first);
                }
            }
        }
    }

    private static SittingRecord OfFirst(SittingRecord sitting)
        => sitting with { Copies = 1, Readings = [.. sitting.Readings.Where(reading => sitting.Cells[reading.Cell].Copy == 0)] };
}
