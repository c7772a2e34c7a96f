using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Dials;

/// <summary>Finds the best settings of every variant that has dials.</summary>
internal static class DialFinder
{
    public static IEnumerable<DialFindings> Find(SittingsView view, Ranker[] rankers)
    {
        var variants = view.Record.Study.Variants;
        return Enumerable.Range(0, variants.Count)
            .Where(row => variants[row].Settings.Count > 0)
            .GroupBy(row => (variants[row].Variant, variants[row].Loop.Threads))
            .Where(dial => dial.Count() > 1)
            .Select(dial => Findings(view, rankers, [.. dial]))
            .Where(dial => dial.Inputs.Count > 0);
    }

    private static DialFindings Findings(SittingsView view, Ranker[] rankers, int[] rows)
    {
        var study = view.Record.Study;
        var inputs = Enumerable.Range(0, study.Inputs.Count)
            .Select(input => OnInput(view, rankers[input].Contrasts,
                [.. rows.Where(row => view.Failure(row, input) is null && view.Time(row, input).IsKnown)], input))
            .OfType<DialOnInput>().ToList();
        SettingFindings? At(DialOnInput on, int row) => on.Settings.FirstOrDefault(setting => setting.Row == row);
        return new DialFindings
        {
            Variant = study.Variants[rows[0]].Variant,
            Threads = study.Variants[rows[0]].Loop.Threads,
            Dials = [.. study.Variants[rows[0]].Settings.Select(setting => setting.Dial)],
            Inputs = inputs,
            BestEverywhere = [.. rows.Where(
                row => inputs.TrueForAll(input => At(input, row) is { IsTied: true } setting && setting.Loss.IsSmall))
                .OrderBy(row => inputs.Max(input => At(input, row)!.Loss.EstimateShare))
                .Select(row => study.Variants[row].Settings)],
        };
    }

    private static DialOnInput? OnInput(SittingsView view, InputContrasts contrasts, int[] rows, int input)
    {
        if (rows.Length == 0)
        {
            return null;
        }

        var best = contrasts.ByTime(rows)[0];
        return new DialOnInput(view.Record.Study.Inputs[input], [.. rows.Select(row => new SettingFindings
        {
            Row = row,
            Settings = view.Record.Study.Variants[row].Settings,
            TimeRatio = contrasts.Find(row, best)?.TimeRatio ?? new Interval(1, 1, 1, view.Level),
            IsBest = row == best,
            IsTied = row == best || contrasts.Verdict(row, best) != Verdict.Slower,
            Loss = Loss.Among(row, rows, contrasts.Find),
        })]);
    }
}
