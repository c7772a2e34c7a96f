using System.Globalization;
using MathNet.Numerics;
using MathNet.Numerics.Statistics;
using Tachyscope.Measuring;
using Tachyscope.Runs;
using static Tachyscope.Bench.Printing;

namespace Tachyscope.Bench;

/// <summary>Chains of known cost: is time against the number of links a straight line through nothing?</summary>
internal static class KnownCostBench
{
    private const double CyclesPerLink = 4;
    private const int LargestInLine = 16;
    private const double AllowedNanoseconds = 0.1;

    public static async Task<int> RunAsync(string? runtime)
    {
        var (findings, run, reading, seconds) = await Instrument.MeasureAsync("known cost", withinSeconds: 30, seed: 1, runtime);
        var cells = findings.Inputs[0].Cells;
        double[] links = [.. cells.Select(cell => double.Parse(cell.Variant.Name, CultureInfo.InvariantCulture))];
        double[] times = [.. cells.Select(cell => cell.NanosecondsPerCall.Estimate)];
        var byHand = await Instrument.MeasureByHandAsync("known cost", reading);
        double[] handTimes = [.. byHand.Select(variant => variant.Batches.Average())];
        var ours = Line(links, times);
        var hand = Line(links, handTimes);
        Console.WriteLine("links  tachyscope ns      ±  off line   stopwatch ns  off line");
        for (var i = 0; i < links.Length; i++)
        {
            Say($"{links[i],5}  {times[i],13:0.000}  {cells[i].NanosecondsPerCall.HalfWidth,5:0.000}  ",
                $"{Off(ours, links[i], times[i]),8:0.000}  {handTimes[i],13:0.000}  {Off(hand, links[i], handTimes[i]),8:0.000}");
        }

        var beat = Beat(run);
        Say($"line through 1 to {LargestInLine} links    tachyscope: intercept {ours.Intercept:0.000} ns, worst residual ",
            $"{Worst(ours, links, times):0.000} ns, {ours.Slope / beat * Metronome.CyclesPerLink:0.000} cycles a link (known: ",
            $"{CyclesPerLink})");
        Say($"                              stopwatch:  intercept {hand.Intercept:0.000} ns, worst residual ",
            $"{Worst(hand, links, handTimes):0.000} ns");
        Say($"256 links against the line    tachyscope: {times[^1] / (ours.Intercept + (ours.Slope * links[^1])) - 1:P2}");
        var isReached = Math.Abs(ours.Intercept) <= AllowedNanoseconds && Worst(ours, links, times) <= AllowedNanoseconds;
        Say($"intercept and residual within {AllowedNanoseconds} ns: {(isReached ? "yes" : "NO")}; {reading:0.0} s of readings in ",
            $"{seconds:0} s, {findings.Sittings} sittings");
        return isReached ? 0 : 1;
    }

    private static (double Intercept, double Slope) Line(double[] links, double[] times)
    {
        var count = links.Count(link => link <= LargestInLine);
        var (intercept, slope) = Fit.Line(links[..count], times[..count]);
        return (intercept, slope);
    }

    private static double Off((double Intercept, double Slope) line, double links, double time)
        => time - line.Intercept - (line.Slope * links);

    private static double Worst((double Intercept, double Slope) line, double[] links, double[] times)
        => links.Zip(times).Where(pair => pair.First <= LargestInLine).Max(pair => Math.Abs(Off(line, pair.First, pair.Second)));

    /// <summary>Median time of one link of the metronome, in nanoseconds.</summary>
    public static double Beat(Run run)
        => run.Studies[0].Sittings
            .SelectMany(sitting => sitting.Readings.Where(reading => sitting.Cells[reading.Cell].Kind == CellKind.Metronome))
            .Select(reading => reading.NanosecondsPerCall)
            .Median();
}
