using System.Globalization;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Bench;

/// <summary>
/// Two equal variants and one a hundred-and-first longer, in many short runs, half of them under a load that comes and
/// goes: how often are the equal ones told apart, how often is the difference found?
/// </summary>
internal static class TwinsBench
{
    private const double MostReadingSeconds = 6;
    private const double TrueRatio = 1.01;
    private const double AllowedToldApart = 0.05;
    private const double LeastFound = 0.95;

    public static async Task<int> RunAsync(int runs)
    {
        var ours = new Tally();
        var hand = new Tally();
        for (var run = 0; run < runs; run++)
        {
            var isLoaded = run % 2 == 1;
            using var load = isLoaded ? Load.Start(TimeSpan.FromSeconds(60)) : null;
            var (findings, _, seconds, all) = await Instrument.MeasureAsync("twins", withinSeconds: null, seed: run + 1);
            var cells = findings.Inputs[0].Cells;
            ours.Add(Judged(cells[1].Contrast!), Judged(cells[2].Contrast!), seconds, isLoaded);
            var byHand = await Instrument.MeasureByHandAsync("twins", seconds);
            hand.Add(Compared(byHand[1].Batches, byHand[0].Batches), Compared(byHand[2].Batches, byHand[0].Batches), seconds, isLoaded);
            Console.WriteLine(string.Create(
                CultureInfo.InvariantCulture,
                $"{run + 1,4} {(isLoaded ? "loaded" : "      ")} {seconds:0.0} s of readings in {all,4:0.0} s, {findings.Sittings} sittings  equal {Text(cells[1].Contrast!),-34} longer {Text(cells[2].Contrast!),-34} floor {findings.Inputs[0].FloorShare:P2}"));
        }

        ours.Print("tachyscope");
        hand.Print("stopwatch loop");
        return ours.LongestSeconds <= MostReadingSeconds && ours.ToldApart <= AllowedToldApart * runs && ours.Found >= LeastFound * runs ? 0 : 1;
    }

    private static (int Sign, Interval Ratio) Judged(Contrast contrast)
        => (contrast.Verdict switch { Verdict.Faster => -1, Verdict.Slower => 1, _ => 0 }, contrast.TimeRatio);

    // What a careful hand does: the means of both with their t interval, apart when the interval of the ratio leaves out 1.
    private static (int Sign, Interval Ratio) Compared(double[] batches, double[] reference)
    {
        double[] ratios = [.. batches.Select(batch => Math.Log(batch / reference.Mean()))];
        var own = SampleStatistics.MeanInterval(ratios, 0.95);
        var others = SampleStatistics.MeanInterval([.. reference.Select(batch => Math.Log(batch / reference.Mean()))], 0.95);
        var reach = Math.Sqrt((own.HalfWidth * own.HalfWidth) + (others.HalfWidth * others.HalfWidth));
        var ratio = new Interval(own.Estimate, own.Estimate - reach, own.Estimate + reach, 0.95).Through(Math.Exp);
        return (ratio.Lower > 1 ? 1 : ratio.Upper < 1 ? -1 : 0, ratio);
    }

    private static string Text(Contrast contrast)
        => string.Create(
            CultureInfo.InvariantCulture,
            $"{contrast.TimeRatio.Estimate - 1,7:P2} [{contrast.TimeRatio.Lower - 1:P2}, {contrast.TimeRatio.Upper - 1:P2}] {contrast.Verdict}");

    private sealed class Tally
    {
        private readonly List<double> _seconds = [];
        private readonly List<double> _errors = [];
        private int _toldApartLoaded;
        private int _held;

        public int ToldApart { get; private set; }

        public int Found { get; private set; }

        public double LongestSeconds => _seconds.Max();

        public void Add((int Sign, Interval Ratio) equal, (int Sign, Interval Ratio) longer, double seconds, bool isLoaded)
        {
            ToldApart += equal.Sign == 0 ? 0 : 1;
            _toldApartLoaded += equal.Sign == 0 || !isLoaded ? 0 : 1;
            Found += longer.Sign > 0 ? 1 : 0;
            _held += longer.Ratio.Lower <= TrueRatio && longer.Ratio.Upper >= TrueRatio ? 1 : 0;
            _errors.Add(Math.Abs(longer.Ratio.Estimate / TrueRatio - 1));
            _seconds.Add(seconds);
        }

        public void Print(string name)
            => Console.WriteLine(string.Create(
                CultureInfo.InvariantCulture,
                $"{name,-15} {_seconds.Count} runs of {_seconds.Median():0.0} s (longest {LongestSeconds:0.0}): equal told apart {(double)ToldApart / _seconds.Count:P0} ({_toldApartLoaded} of {ToldApart} loaded), {TrueRatio - 1:P0} found {(double)Found / _seconds.Count:P0}, interval held the truth {(double)_held / _seconds.Count:P0}, worst error {_errors.Max():P2}"));
    }
}
