using Tachyscope.Analysis.Contrasts;

namespace Tachyscope.Analysis.Rankings;

/// <summary>Ranks the rows of an input that do the same job on as many threads.</summary>
internal sealed class Ranker
{
    private readonly Dictionary<int, Place> _places = [];

    public Ranker(InputContrasts contrasts, IReadOnlyList<IReadOnlyList<int>> groups)
    {
        (Contrasts, Groups) = (contrasts, groups);
        foreach (var group in groups.Where(group => group.Count > 1))
        {
            foreach (var row in group)
            {
                var others = group.Where(other => other != row).Select(other => contrasts.Verdict(row, other)).ToList();
                _places[row] = new Place(
                    1 + others.Count(verdict => verdict == Verdict.Slower),
                    group.Count - others.Count(verdict => verdict == Verdict.Faster));
            }
        }
    }

    /// <summary>Rows that are ranked together.</summary>
    public IReadOnlyList<IReadOnlyList<int>> Groups { get; }

    /// <summary>The comparisons of the input.</summary>
    public InputContrasts Contrasts { get; }

    /// <summary>Every pair of rows that are ranked together.</summary>
    public IEnumerable<PairContrast> Pairs
        => Groups.SelectMany(Within).Select(pair => Contrasts.Find(pair.Row, pair.Other)).OfType<PairContrast>();

    public Place? PlaceOf(int row) => _places.TryGetValue(row, out var place) ? place : null;

    /// <summary>Every two rows of a group, the one defined later first.</summary>
    public static IEnumerable<(int Row, int Other)> Within(IReadOnlyList<int> rows)
        => from other in Enumerable.Range(0, rows.Count)
           from row in Enumerable.Range(other + 1, rows.Count - other - 1)
           select (rows[row], rows[other]);
}
