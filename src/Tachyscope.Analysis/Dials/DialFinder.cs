using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Dials;

/// <summary>Finds the best settings of every variant that has dials.</summary>
internal static class DialFinder
{
    public static IEnumerable<DialFindings> Find(StudyView view, Ranker[] rankers)
    {
        var variants = view.Record.Study.Variants;
        return Enumerable.Range(0, variants.Count)
            .Where(row => variants[row].Settings.Count > 0)
            .GroupBy(row => (variants[row].Variant, variants[row].Loop.Threads))
            .Where(dial => dial.Count() > 1)
            .Select(dial => Findings(view, rankers, [.. dial]))
            .Where(dial => dial.Inputs.Count > 0);
    }

    private static DialFindings Findings(StudyView view, Ranker[] rankers, int[] rows)
    {
        var study = view.Record.Study;
        var inputs = Enumerable.Range(0, study.Inputs.Count)
            .Select(input => OnInput(view, rankers[input], [.. rows.Where(row => view.Failure(row, input) is null && view.Time(row, input, view.Order(row)).IsKnown)], input))
            .OfType<DialOnInput>().ToList();
        return new DialFindings
        {
            Variant = study.Variants[rows[0]].Variant,
            Threads = study.Variants[rows[0]].Loop.Threads,
            Dials = [.. study.Variants[rows[0]].Settings.Select(setting => setting.Dial)],
            Inputs = inputs,
            BestEverywhere = [.. rows.Where(row => inputs.TrueForAll(input => input.Settings.Any(setting => setting.Row == row && setting.IsTied)))
                .Select(row => study.Variants[row].Settings)],
        };
    }

    private static DialOnInput? OnInput(StudyView view, Ranker ranker, int[] rows, int input)
    {
        if (rows.Length == 0)
        {
            return null;
        }

        var best = rows.MinBy(row => SampleStatistics.Mean(view.LogRatios(row, rows[0], input)));
        return new DialOnInput(view.Record.Study.Inputs[input], [.. rows.Select(row => new SettingFindings
        {
            Row = row,
            Settings = view.Record.Study.Variants[row].Settings,
            TimeRatio = ranker.Pairs.Find(row, best)?.TimeRatio ?? new Interval(1, 1, 1, view.Level),
            IsBest = row == best,
            IsTied = row == best || ranker.Pairs.Verdict(row, best) != Verdict.Slower,
        })]);
    }
}
