using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Diagnoses;

/// <summary>
/// Looks whether the runtime switches of a target do what they say; the runtime ignores in silence what it does not know.
/// </summary>
internal static class SwitchCheck
{
    /// <summary>Asks a worker of its own, since looking disturbs it.</summary>
    /// <returns>What was seen, and a sentence for each switch without its effect.</returns>
    public static async Task<(IReadOnlyList<SwitchState> States, IReadOnlyList<string> Problems)> LookAsync(
        IWorkerStarter starter, int index, Target target, Patience patience, CancellationToken cancellation)
    {
        if (target.Switches.Count == 0)
        {
            return ([], []);
        }

        var (worker, hello) = await starter.StartReadyAsync(patience, cancellation, index);
        await using var disposal = worker;
        var effects = (await worker.AskAsync<Empty, EffectsReply>(WorkerMethods.Effects, Empty.Instance, patience, cancellation)).Effects
            .ToDictionary(StringComparer.OrdinalIgnoreCase);
        List<SwitchState> states = [];
        List<string> problems = [];
        foreach (var (name, value) in target.Switches)
        {
            var isKnown = effects.TryGetValue(name, out var seen);
            states.Add(new SwitchState(name, value, isKnown && IsSame(value, seen!)));
            if (isKnown && !IsSame(value, seen!))
            {
                problems.Add($"{target.Name}: switch:{name}={value} has no effect here: the process shows {name}={seen} "
                    + $"({hello.Environment.Runtime}); leave it out, or add --insist to measure all the same.");
            }
            else if (!isKnown && Near(name, effects.Keys) is { } meant)
            {
                problems.Add($"{target.Name}: the runtime would ignore switch:{name} in silence; is {meant} meant? Add --insist to "
                    + "measure all the same.");
            }
        }

        return (states, problems);
    }

    // Numbers are given to the runtime in hexadecimal.
    private static bool IsSame(string asked, string seen)
        => asked.Equals(seen, StringComparison.OrdinalIgnoreCase)
            || asked.TrimStart('0', 'x', 'X').Equals(seen.TrimStart('0'), StringComparison.OrdinalIgnoreCase);

    private static string? Near(string name, IEnumerable<string> known) => known.FirstOrDefault(other => Distance(name, other) <= 2);

    /// <summary>Letters to change, add or leave out; Levenshtein 1966.</summary>
    private static int Distance(string one, string other)
    {
        int[] row = [.. Enumerable.Range(0, other.Length + 1)];
        for (var i = 1; i <= one.Length; i++)
        {
            var (corner, _) = (row[0], row[0] = i);
            for (var j = 1; j <= other.Length; j++)
            {
                var least = Math.Min(Math.Min(row[j], row[j - 1]) + 1,
                    corner + (char.ToUpperInvariant(one[i - 1]) == char.ToUpperInvariant(other[j - 1]) ? 0 : 1));
                (corner, row[j]) = (row[j], least);
            }
        }

        return row[^1];
    }
}
