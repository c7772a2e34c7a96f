using System.Diagnostics;
using Tachyscope.Testing;

namespace Tachyscope.Bench;

/// <summary>How often a limit of a unit test is called broken that is kept, and kept that is broken, beside a busy loop on every
/// processor.</summary>
internal static class TestingBench
{
    private const int DefaultRuns = 1_000;
    private const int BrokenRuns = 20;
    private static readonly TimeSpan MostOfARun = TimeSpan.FromSeconds(10);
    private static readonly int[] Few = [.. Enumerable.Range(0, 300)];
    private static readonly int[] Many = [.. Enumerable.Range(0, 3_000)];

    /// <summary>Runs each kept limit as often as asked, and each broken one a few times.</summary>
    public static int Run(int runs)
    {
        runs = runs > 0 ? runs : DefaultRuns;
        // Beside every one of them, and over at last if this is ended from outside.
        using var load = Load.Spin(Environment.ProcessorCount, TimeSpan.FromMinutes(2) + (runs * MostOfARun));
        var begun = Stopwatch.GetTimestamp();
        (string What, Action Check)[] kept =
        [
            ("no bytes", () => Keeps.Bytes(0, () => Sum(Few))),
            ("56 bytes", () => Keeps.Bytes(56, () => new int[8])),
            ("growth with the size", () => Keeps.Growth(1, [300, 3_000], size => size == 300 ? Few : Many, input => Sum(input))),
            ("as long as itself", () => Keeps.Pace(() => Sum(Few), () => Sum(Few))),
        ];
        var brief = TimeSpan.FromSeconds(2);
        (string What, Action Check)[] broken =
        [
            ("56 bytes where 55 are allowed", () => Keeps.Bytes(55, () => new int[8], brief)),
            ("a square where the size is allowed", () => Keeps.Growth(1, [30, 300], size => Few[..size], Pairs, brief)),
            ("twice as long", () => Keeps.Pace(() => Sum(Few), () => { Sum(Few); Sum(Few); }, within: brief)),
        ];
        var wrong = 0;
        foreach (var (what, check) in kept)
        {
            wrong += Tell($"called broken, and is kept: {what}", Enumerable.Range(0, runs).Count(_ => IsBroken(check)), runs);
        }

        foreach (var (what, check) in broken)
        {
            wrong += Tell($"called kept, and is broken: {what}", Enumerable.Range(0, BrokenRuns).Count(_ => !IsBroken(check)), BrokenRuns);
        }

        Console.WriteLine(FormattableString.Invariant($"{Stopwatch.GetElapsedTime(begun).TotalSeconds:0} s"));
        return wrong == 0 ? 0 : 1;
    }

    private static int Tell(string what, int count, int runs)
    {
        Console.WriteLine(FormattableString.Invariant($"{count,5} of {runs,-6} {what}"));
        return count;
    }

    private static bool IsBroken(Action check)
    {
        try
        {
            check();
            return false;
        }
        catch (LimitBrokenException)
        {
            return true;
        }
    }

    private static long Sum(int[] numbers)
    {
        var sum = 0L;
        foreach (var number in numbers)
        {
            sum += number;
        }

        return sum;
    }

    private static void Pairs(int[] numbers)
    {
        foreach (var number in numbers)
        {
            GC.KeepAlive(Sum(numbers) + number);
        }
    }
}
