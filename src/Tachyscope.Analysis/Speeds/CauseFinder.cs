using Tachyscope.Runs;

namespace Tachyscope.Analysis.Speeds;

/// <summary>Finds what goes along with the speeds of one code: what was made of it, and where it and its input came to lie.</summary>
/// <remarks>
/// Each thing heard of the placements parts them by its values. It is said to go along with the speeds where at least nine of ten
/// placements have the speed that most of their value have, and so many would in at most one of a hundred shufflings (a permutation test;
/// E. J. G. Pitman, "Significance tests which may be applied to samples from any populations", 1937). What comes first among those that
/// are as clear explains the others: code of another length lies elsewhere too.
/// </remarks>
internal static class CauseFinder
{
    private const int LineBytes = 64;
    private const int FewestPlacements = 6;
    private const double LeastAlike = 0.9;
    private const int Shufflings = 2_000;
    private const double MostByChance = 0.01;

    private static readonly (SpeedCauseKind Kind, string? Of, Func<CellCode, int?> Value)[] Looks =
    [
        (SpeedCauseKind.Inlining, null, code => code.IsInlined is { } isInlined ? isInlined ? 1 : 0 : null),
        (SpeedCauseKind.Compilation, null, code => code.Bytes ?? code.LoopBytes),
        (SpeedCauseKind.CodePlacement, null, code => (code.Offset ?? code.LoopOffset) % LineBytes),
        (SpeedCauseKind.DataPlacement, null, code => code.InputOffset % LineBytes),
    ];

    /// <summary>What goes along with them; null where nothing does.</summary>
    /// <param name="placements">The speed of each placement, and what was heard of it.</param>
    public static SpeedCause? Find(IReadOnlyList<(int Speed, CellCode Code)> placements)
    {
        SpeedCause? found = null;
        var callees = placements.SelectMany(placement => placement.Code.Callees)
            .Select(callee => callee.Name).Distinct().Order(StringComparer.Ordinal);
        foreach (var (kind, of, value) in Looks.Concat(callees.SelectMany(OfCallee)))
        {
            var heard = placements.Where(placement => value(placement.Code) is not null)
                .Select(placement => (placement.Speed, Value: value(placement.Code)!.Value)).ToArray();
            if (heard.Length >= FewestPlacements && Of(kind, heard) is { } cause
                && (found is null || (double)cause.Alike / cause.Placements > (double)found.Alike / found.Placements))
            {
                found = cause with { Of = of };
            }
        }

        return found;
    }

    private static IEnumerable<(SpeedCauseKind Kind, string? Of, Func<CellCode, int?> Value)> OfCallee(string name)
    {
        CalleeCode? Find(CellCode code) => code.Callees.FirstOrDefault(callee => callee.Name == name);
        yield return (SpeedCauseKind.Compilation, name, code => Find(code)?.Bytes);
        yield return (SpeedCauseKind.CodePlacement, name, code => Find(code)?.Offset % LineBytes);
    }

    private static SpeedCause? Of(SpeedCauseKind kind, (int Speed, int Value)[] heard)
    {
        var speeds = Array.ConvertAll(heard, placement => placement.Speed);
        int[] known = [.. heard.Select(placement => placement.Value).Distinct()];
        var values = Array.ConvertAll(heard, placement => Array.IndexOf(known, placement.Value));
        var counts = new int[known.Length, speeds.Max() + 1];
        var alike = Alike(speeds, values, counts);
        if (known.Length < 2 || alike < LeastAlike * heard.Length)
        {
            return null;
        }

        var (random, byChance) = (new Random(1), 0);
        for (var shuffling = 0; shuffling < Shufflings; shuffling++)
        {
            random.Shuffle(speeds);
            byChance += Alike(speeds, values, counts) >= alike ? 1 : 0;
        }

        return byChance > MostByChance * Shufflings ? null : new SpeedCause(
            kind,
            [.. Enumerable.Range(0, counts.GetLength(1)).Select(speed => (IReadOnlyList<int>)[.. heard.Where(placement
                => placement.Speed == speed)
                .GroupBy(placement => placement.Value).OrderByDescending(value => value.Count()).ThenBy(value => value.Key)
                    .Select(value => value.Key)])],
            heard.Length, alike);
    }

    // Placements whose speed is the most frequent one of their value.
    private static int Alike(int[] speeds, int[] values, int[,] counts)
    {
        Array.Clear(counts);
        for (var index = 0; index < speeds.Length; index++)
        {
            counts[values[index], speeds[index]]++;
        }

        var alike = 0;
        for (var value = 0; value < counts.GetLength(0); value++)
        {
            var most = 0;
            for (var speed = 0; speed < counts.GetLength(1); speed++)
            {
                most = Math.Max(most, counts[value, speed]);
            }

            alike += most;
        }

        return alike;
    }
}
