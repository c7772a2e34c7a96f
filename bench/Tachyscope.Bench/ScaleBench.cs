using System.Diagnostics;
using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Tests;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>Time and memory that the analysis of a large run takes, and how both grow with the number of its readings.</summary>
internal static class ScaleBench
{
    private const int Variants = 100;
    private const int Sizes = 10;
    private const int Sittings = 6;
    private const int RoundsOfWhole = 111;
    private const double MostSeconds = 2;
    private const double MostMebibytes = 500;

    // Twice the readings may take a quarter more than twice the time: the collector's, and the machine's moods.
    private const double MostGrowth = 2.5;

    public static int Run()
    {
        // Once for the compiler; the largest before the half of it, so that the peak is its own.
        Take(Made(RoundsOfWhole / 8));
        GC.Collect();
        var whole = Take(Made(RoundsOfWhole));
        var peak = Process.GetCurrentProcess().PeakWorkingSet64 / (1024.0 * 1024);
        GC.Collect();
        var half = Take(Made(RoundsOfWhole / 2));
        Console.WriteLine(Told(half));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{Told(whole)}, {whole.Seconds / half.Seconds:0.00} times as long; "
                + $"the process took {peak:0} MiB at most, the run itself with it"));
        return whole.Seconds < MostSeconds && peak < MostMebibytes && whole.Seconds / half.Seconds < MostGrowth ? 0 : 1;
    }

    private static string Told((double Seconds, double ReadingsPerCell) taken) => string.Create(CultureInfo.InvariantCulture,
        $"{Variants * Sizes} cells with {taken.ReadingsPerCell:N0} readings each: {taken.Seconds:0.00} s");

    private static Run Made(int rounds) => new RunSimulator
    {
        Sizes = [.. Enumerable.Range(4, Sizes).Select(power => 1 << power)],
        TimeAt = (variant, size) => 50 + variant + (size * (1 + (variant % 7))),
        Times = new double[Variants], Bytes = new long[Variants], Sittings = Sittings, Rounds = rounds,
    }.Make(1);

    private static (double Seconds, double ReadingsPerCell) Take(Run run)
    {
        GC.Collect();
        var begin = Stopwatch.GetTimestamp();
        var findings = Analyst.Examine(run, AnalysisOptions.Default);
        var seconds = Stopwatch.GetElapsedTime(begin).TotalSeconds;
        return (seconds, findings[0].Inputs.Average(input => input.Cells.Average(cell => cell.Signals.Readings)));
    }
}
