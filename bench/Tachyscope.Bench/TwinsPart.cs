using System.Globalization;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;
using static Tachyscope.Bench.Printing;

namespace Tachyscope.Bench;

/// <summary>
/// Equal variants and known differences in many short runs, a third of them quiet, under a load that comes and goes, under a
/// steady load of all processors; beside two loops around a stopwatch that get as much time inside readings.
/// </summary>
internal static class TwinsPart
{
    private const double Level = 0.95;
    private const double SecondsToVerdict = 2.5;
    private static readonly string[] Weathers = ["quiet", "on and off", "steady"];
    private static readonly double[] Truths = [1, 1.01, 1.02, 1.05];

    public static async Task<IReadOnlyList<Claim>> RunAsync(int runs)
    {
        Tally[] tallies = [new("tachyscope"), new("one after the other"), new("in turn, no sittings")];
        var (toVerdict, wallToVerdict, whole) = (new List<double>(), new List<double>(), new List<double>());
        for (var run = 0; run < runs; run++)
        {
            var weather = run % Weathers.Length;
            using var load = weather == 0 ? null : Load.Start(TimeSpan.FromSeconds(90), isSteady: weather == 2);
            var (findings, measured, seconds, all) = await Instrument.MeasureAsync("twins", withinSeconds: null, seed: run + 1);
            tallies[0].Add(weather, [.. findings.Inputs[0].Cells.Skip(1).Select(cell => Sign(cell.Contrast!))], Unadjusted(measured));
            var byHand = await Instrument.MeasureByHandAsync("twins", seconds);
            tallies[1].Add(weather, [.. Compared(byHand).Select(Sign)], Compared(byHand));
            var inTurn = await Instrument.MeasureByHandAsync("twins", seconds, inTurn: true);
            tallies[2].Add(weather, [.. Paired(inTurn).Select(Sign)], Paired(inTurn));
            var (reading, wall) = ToVerdict(measured);
            toVerdict.Add(reading);
            wallToVerdict.Add(wall);
            whole.Add(all);
            Console.WriteLine(string.Create(
                CultureInfo.InvariantCulture,
                $"{run + 1,4} {Weathers[weather],-10} {seconds:0.0} s of readings in {all,4:0.0} s, {findings.Sittings} sittings  "
                    + $"{string.Join("  ", findings.Inputs[0].Cells.Skip(1).Select(cell => Text(cell.Contrast!)))}  resolution "
                    + $"{findings.Inputs[0].ResolutionShare:P2}  2 % told after {wall:0.0} s"));
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{"",-22} {"weather",-10}  equal told apart   1 % found   2 % found   5 % found   95 % intervals held   worst error"));
        foreach (var tally in tallies)
        {
            tally.Print(Weathers);
        }

        var ours = tallies[0];
        Say($"a run took {whole.Median():0.0} s (median), the right verdict on 2 % stood after {toVerdict.Median():0.00} s of readings, ",
            $"{wallToVerdict.Median():0.0} s after the run began (medians)");
        return
        [
            Claim.AtMost("equal variants told apart", ours.ToldApart, 0.05),
            Claim.AtLeast("a difference of 1 % found with the right sign", ours.Found(1), 0.95),
            Claim.AtLeast("a difference of 2 % found with the right sign", ours.Found(2), 0.95),
            Claim.AtLeast("a difference of 5 % found with the right sign", ours.Found(3), 0.95),
            new("95 % intervals that hold the truth", ours.Held.ToString("P1", CultureInfo.InvariantCulture), "93 % to 97 %",
                ours.Held is >= 0.93 and <= 0.97),
            new("time of measuring to the right verdict on 2 %, median",
                string.Create(CultureInfo.InvariantCulture, $"{toVerdict.Median():0.00} s"), "under 2.5 s",
                toVerdict.Median() < SecondsToVerdict),
        ];
    }

    private static int Sign(Contrast contrast) => contrast.Verdict switch { Verdict.Faster => -1, Verdict.Slower => 1, _ => 0 };

    private static int Sign(Interval ratio) => ratio.Lower > 1 ? 1 : ratio.Upper < 1 ? -1 : 0;

    // Each interval by itself at 95 %: the table's are wider, so that all of them hold together.
    private static Interval[] Unadjusted(Run run)
        => [.. Analyst.Examine(run, run.Studies[0],
            new AnalysisOptions { IntervalLevel = 1 - ((1 - Level) * Truths.Length) }).Inputs[0].Cells.Skip(1).Select(cell
                => cell.Contrast!.TimeRatio)];

    // After how many sittings the verdict on 2 % was right and stayed so: time inside readings until then, and time since the run began.
    private static (double ReadingSeconds, double WallSeconds) ToVerdict(Run run)
    {
        var study = run.Studies[0];
        for (var sittings = study.Sittings.Count; sittings > 0; sittings--)
        {
            var begun = study with { Sittings = [.. study.Sittings.Take(sittings)] };
            if (Analyst.Examine(run, begun, AnalysisOptions.Default).Inputs[0].Cells[3].Contrast!.Verdict != Verdict.Slower)
            {
                return sittings == study.Sittings.Count ? (double.PositiveInfinity, double.PositiveInfinity) : Spent(sittings + 1);
            }
        }

        return Spent(1);

        (double, double) Spent(int count)
            => (study.Sittings.Take(count)
                .Sum(sitting => sitting.Readings.Sum(reading => reading.ElapsedNanoseconds)) * 1e-9,
                study.Sittings[count - 1].EndedSeconds);
    }

    // What a careful hand does: the means of both with their t interval, apart when the interval of the ratio leaves out 1.
    private static Interval[] Compared(IReadOnlyList<(string Name, double[] Batches)> variants)
        => [.. variants.Skip(1).Select(variant =>
        {
            var reference = variants[0].Batches;
            var own = SampleStatistics.MeanInterval([.. variant.Batches.Select(batch => Math.Log(batch / reference.Mean()))], Level);
            var others = SampleStatistics.MeanInterval([.. reference.Select(batch => Math.Log(batch / reference.Mean()))], Level);
            var reach = Math.Sqrt((own.HalfWidth * own.HalfWidth) + (others.HalfWidth * others.HalfWidth));
            return new Interval(own.Estimate, own.Estimate - reach, own.Estimate + reach, Level).Through(Math.Exp);
        })];

    // Round by round, as if rounds of one process were all the chance there is.
    private static Interval[] Paired(IReadOnlyList<(string Name, double[] Batches)> variants)
        => [.. variants.Skip(1).Select(variant =>
            SampleStatistics.MeanInterval([.. variant.Batches.Zip(variants[0].Batches, (own, reference) => Math.Log(own / reference))],
                Level).Through(Math.Exp))];

    private static string Text(Contrast contrast)
        => string.Create(CultureInfo.InvariantCulture,
            $"{contrast.TimeRatio.Estimate - 1,6:P2} ± {contrast.TimeRatio.HalfWidth:P2} {contrast.Verdict}");

    private sealed class Tally(string name)
    {
        private readonly List<(int Weather, int[] Signs, Interval[] Ratios)> _runs = [];

        public double ToldApart => Share(_runs, run => run.Signs[0] != 0);

        public double Held => HeldIn(_runs);

        public double Found(int variant) => Share(_runs, run => run.Signs[variant] > 0);

        public void Add(int weather, int[] signs, Interval[] ratios) => _runs.Add((weather, signs, ratios));

        public void Print(string[] weathers)
        {
            for (var weather = 0; weather <= weathers.Length; weather++)
            {
                var own = _runs.Where(run => weather == weathers.Length || run.Weather == weather).ToList();
                var worst = own.SelectMany(run => run.Ratios.Zip(Truths, (ratio, truth) => Math.Abs((ratio.Estimate / truth) - 1)))
                    .DefaultIfEmpty(0).Max();
                double FoundIn(int variant) => Share(own, run => run.Signs[variant] > 0);
                Say($"{(weather == 0 ? name : ""),-22} {(weather == weathers.Length ? "all" : weathers[weather]),-10}  ",
                    $"{Share(own, run => run.Signs[0] != 0),16:P1}  {FoundIn(1),10:P1}  {FoundIn(2),10:P1}  {FoundIn(3),10:P1}  ",
                    $"{HeldIn(own),20:P1}  {worst,12:P2}");
            }
        }

        private static double HeldIn(List<(int Weather, int[] Signs, Interval[] Ratios)> runs)
            => runs.SelectMany(run => run.Ratios.Zip(Truths, (ratio, truth) => ratio.Lower <= truth && truth <= ratio.Upper ? 1.0 : 0))
                .DefaultIfEmpty(0).Average();

        private static double Share<T>(List<T> of, Func<T, bool> isMeant) => of.Count == 0 ? 0 : (double)of.Count(isMeant) / of.Count;
    }
}
