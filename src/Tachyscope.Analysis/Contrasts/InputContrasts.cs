using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>
/// All comparisons of one input. Each pair is compared in one family, so that a table, a place and a sentence cannot disagree on it.
/// </summary>
/// <remarks>
/// Two questions are asked: how rows stand to what each is compared with, and which of them to take. What the first has compared
/// already, the second takes as it is, and makes a family of the rest.
/// </remarks>
internal sealed class InputContrasts
{
    private readonly Pairing _pairing;
    private readonly int _input;
    private readonly List<ContrastFamily> _families = [];

    /// <param name="pairing">How rows are paired.</param>
    /// <param name="input">Index of the input.</param>
    /// <param name="questions">The pairs of each question; one that came before is left out.</param>
    /// <param name="resolutions">What twins cannot tell apart.</param>
    public InputContrasts(Pairing pairing, int input, IEnumerable<IEnumerable<(int Row, int Other)>> questions, Resolutions resolutions)
    {
        (_pairing, _input) = (pairing, input);
        foreach (var pairs in questions)
        {
            var open = pairs.Where(pair => Find(pair.Row, pair.Other) is null).ToList();
            _families.Add(new ContrastFamily(pairing, input, open, resolutions));
        }
    }

    /// <summary>The pair, whichever way round it was compared; null when it was not.</summary>
    public PairContrast? Find(int row, int other)
    {
        // Asked for every two rows many times over: nothing is made anew for it.
        foreach (var family in _families)
        {
            if (family.Find(row, other) is { } found)
            {
                return found;
            }
        }

        return null;
    }

    public Verdict Verdict(int row, int other) => Find(row, other)?.Verdict ?? Contrasts.Verdict.Unclear;

    /// <summary>A row's time over another's, by sittings.</summary>
    public RatioSeries Ratio(int row, int other) => _pairing.Ratio(row, other, _input);

    /// <summary>The rows by their time, the shortest first; of those only known to take at most so much, nothing tells which is.</summary>
    /// <param name="rows">The rows.</param>
    public IReadOnlyList<int> ByTime(IEnumerable<int> rows)
    {
        var all = rows.ToList();
        return [.. all.OrderBy(row => _pairing.View.AtMost(row, _input) is null)
            .ThenBy(row => _pairing.View.AtMost(row, _input) ?? Level(row))];

        double Level(int row) => SampleStatistics.Mean(Ratio(row, all.Find(other => _pairing.View.AtMost(other, _input) is null)).Logs);
    }
}
