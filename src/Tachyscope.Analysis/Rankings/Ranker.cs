using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Rankings;

/// <summary>Ranks the rows of an input that do the same job on as many threads.</summary>
internal sealed class Ranker
{
    private readonly Dictionary<int, Place> _places = [];

    public Ranker(StudyView view, int input, IReadOnlyList<int> rows, Floors floors)
    {
        var variants = view.Record.Study.Variants;
        Groups = [.. rows.Where(row => variants[row].Part != VariantPart.Prepare && view.Failure(row, input) is null)
            .GroupBy(row => variants[row].Loop.Threads)
            .Select(group => (IReadOnlyList<int>)[.. group])];
        Pairs = new ContrastFamily(view, input, Groups.SelectMany(Within), floors);
        foreach (var group in Groups.Where(group => group.Count > 1))
        {
            foreach (var row in group)
            {
                var others = group.Where(other => other != row).Select(other => Pairs.Verdict(row, other)).ToList();
                _places[row] = new Place(1 + others.Count(verdict => verdict == Verdict.Slower), group.Count - others.Count(verdict => verdict == Verdict.Faster));
            }
        }
    }

    /// <summary>Rows that are ranked together.</summary>
    public IReadOnlyList<IReadOnlyList<int>> Groups { get; }

    /// <summary>Every pair of rows that are ranked together.</summary>
    public ContrastFamily Pairs { get; }

    public Place? PlaceOf(int row) => _places.TryGetValue(row, out var place) ? place : null;

    private static IEnumerable<(int Row, int Other)> Within(IReadOnlyList<int> rows)
        => from other in Enumerable.Range(0, rows.Count)
           from row in Enumerable.Range(other + 1, rows.Count - other - 1)
           select (rows[row], rows[other]);
}
