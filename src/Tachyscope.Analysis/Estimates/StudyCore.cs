using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Decides which readings of a study its figures are made of: by the gauges beside them, never by the readings themselves.
/// </summary>
internal static class StudyCore
{
    // In so many of the sittings of a cell there has to be enough of what was read beside a quiet core.
    private const double LeastShare = 0.5;

    /// <summary>The state whose readings all figures of a study are made of: quiet, where there is enough of it, else any.</summary>
    /// <param name="sittings">Its sittings.</param>
    public static CoreState StateOf(IReadOnlyList<SittingRecord> sittings)
    {
        if (sittings.Count == 0 || !sittings.All(sitting => SittingFigures.Of(sitting, CoreState.Any).Taken.IsGauged))
        {
            return CoreState.Any;
        }

        var seen = new Dictionary<(int Variant, int Input, int Target, bool IsApart), (int Sittings, int Enough, bool IsLong)>();
        foreach (var sitting in sittings)
        {
            var figures = SittingFigures.Of(sitting, CoreState.Quiet);
            for (var cell = 0; cell < sitting.Cells.Count; cell++)
            {
                var found = sitting.Cells[cell];
                if (found is { Kind: CellKind.Variant, Copy: 0 } && figures.IsOfCore(cell))
                {
                    var key = (found.Variant, found.Input, found.Target, sitting.IsApart);
                    var (all, enough, _) = seen.GetValueOrDefault(key);
                    seen[key] = (all + 1, enough + (figures.HasEnough(cell) ? 1 : 0), figures.Taken.IsLong(cell));
                }
            }
        }

        // What takes longer than quiet moments last is brought to them by how much of it was shared.
        bool IsEnough((int Sittings, int Enough, bool IsLong) cell)
            => cell.Enough >= Math.Max(Math.Min(2, cell.Sittings), LeastShare * cell.Sittings);
        return seen.Count > 0 && seen.Values.All(cell => cell.IsLong || IsEnough(cell)) ? CoreState.Quiet : CoreState.Any;
    }

    /// <summary>The sittings, with figures made of the readings of a state.</summary>
    public static List<SittingFigures> Figures(IEnumerable<SittingRecord> sittings, CoreState state)
        => [.. sittings.Select(sitting => SittingFigures.Of(sitting, state))];
}
