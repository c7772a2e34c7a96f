using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;

namespace Tachyscope.Analysis.Rankings;

/// <summary>Finds which row to take: the one whose largest loss over the inputs is least, by the estimates.</summary>
internal static class DecisionFinder
{
    public static IEnumerable<Decision> Find(SittingsView view, Ranker[] rankers)
    {
        var variants = view.Record.Study.Variants;
        return rankers.SelectMany(ranker => ranker.Groups).Select(group => variants[group[0]].Loop.Threads).Distinct()
            .Select(threads => Find(
                threads,
                [.. rankers.SelectMany((ranker, input) => ranker.Groups
                    .Where(group => variants[group[0]].Loop.Threads == threads)
                    .Select(group => new OnInput(input, ranker.Contrasts, [.. group.Where(row => view.Time(row, input).IsKnown)])))]))
            .OfType<Decision>();
    }

    private static Decision? Find(int? threads, List<OnInput> inputs)
    {
        // What failed somewhere cannot be taken everywhere.
        var candidates = inputs.Count == 0
            ? []
            : inputs.Skip(1).Aggregate(inputs[0].Rows.AsEnumerable(), (rows, on) => rows.Intersect(on.Rows)).ToList();
        if (candidates.Count == 0 || inputs.Max(on => on.Rows.Count) < 2)
        {
            return null;
        }

        var (row, losses) = candidates.Select(row => (row, Losses: inputs.ConvertAll(on => Loss.Among(row, on.Rows, on.Contrasts.Find))))
            .OrderBy(found => found.Losses.Max(loss => loss.EstimateShare)).ThenBy(found => found.Losses.Max(loss => loss.WorstShare))
            .ThenBy(found => found.Losses.Sum(loss => loss.EstimateShare)).First();
        var worst = inputs[losses.FindIndex(loss => loss.WorstShare == losses.Max(other => other.WorstShare))];
        return new Decision
        {
            Threads = threads,
            Row = row,
            Loss = new Loss(losses.Max(loss => loss.EstimateShare), losses.Max(loss => loss.WorstShare)),
            WorstInput = worst.Input,
            WorstOther = worst.Rows.Where(other => other != row).DefaultIfEmpty(row)
                .MaxBy(other => Loss.Among(row, [other], worst.Contrasts.Find).WorstShare),
            IsFastest = inputs.TrueForAll(on => on.Rows.All(other => other == row || on.Contrasts.Verdict(row, other) == Verdict.Faster)),
            Inputs = inputs.Count,
        };
    }

    private sealed record OnInput(int Input, InputContrasts Contrasts, List<int> Rows);
}
