using System.Globalization;

namespace Tachyscope.Bench;

/// <summary>
/// What makes a result believable, all of it: twins and known differences under load, look-ups, times kept, false doubts.
/// </summary>
internal static class EvidenceBench
{
    /// <summary>Runs all parts or one of them; in short, to see that it works, or in full, to judge.</summary>
    public static async Task<int> RunAsync(bool isFull, string? only)
    {
        (string Name, Func<Task<IReadOnlyList<Claim>>> Run)[] parts =
        [
            ("twins", () => TwinsPart.RunAsync(isFull ? 200 : 6)),
            ("look-ups", () => LookUpsPart.RunAsync(isFull ? 60 : 2)),
            ("schedule", () => SchedulePart.RunAsync(isFull ? 4 : 1)),
            ("doubts", () => DoubtsPart.RunAsync(isFull ? 20 : 1)),
        ];
        var claims = new List<Claim>();
        foreach (var (name, run) in parts.Where(part => only is null || part.Name == only))
        {
            Console.WriteLine($"— {name}");
            claims.AddRange(await run());
        }

        Console.WriteLine();
        foreach (var claim in claims)
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{(claim.IsReached ? "reached" : "MISSED "),-8} {claim.What,-62} {claim.Figure,-22} asked: {claim.Asked}"));
        }

        // A handful of runs shows that everything works and judges nothing.
        return isFull && claims.Exists(claim => !claim.IsReached) ? 1 : 0;
    }
}

/// <summary>One claim and what came of it.</summary>
internal sealed record Claim(string What, string Figure, string Asked, bool IsReached)
{
    public static Claim AtMost(string what, double share, double most)
        => new(what, share.ToString("P1", CultureInfo.InvariantCulture),
            string.Create(CultureInfo.InvariantCulture, $"at most {100 * most:0.#} %"), share <= most);

    public static Claim AtLeast(string what, double share, double least)
        => new(what, share.ToString("P1", CultureInfo.InvariantCulture),
            string.Create(CultureInfo.InvariantCulture, $"at least {100 * least:0.#} %"), share >= least);
}
