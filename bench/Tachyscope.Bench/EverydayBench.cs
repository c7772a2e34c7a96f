using System.Globalization;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;
using Tachyscope.Storing;
using static Tachyscope.Bench.Printing;

namespace Tachyscope.Bench;

/// <summary>
/// Operations of everyday code, each study in several runs: read while nobody else uses the core, and in turn with that as it was
/// before, by all readings.
/// </summary>
internal static class EverydayBench
{
    private const double HalfWidth = 0.015;
    private const double WidestOfTen = 0.05;
    private const double TimesApart = 0.015;
    private const int DefaultRuns = 3;
    private const double TimesBesideLoad = 0.05;
    private const string KnownWait = "everyday: fifty milliseconds";
    private const string LongOperation = "everyday: in order, many";
    private static readonly string[] Weathers = ["quiet", "one busy loop", "two busy loops"];

    /// <summary>Runs the studies as often as asked in each way and weather and prints the ratios.</summary>
    /// <param name="runs">Runs each; three by default.</param>
    /// <param name="only">Part of the studies' names; all of them when null or empty.</param>
    /// <param name="folder">Where each run is kept, and read from instead of measured where it is there already; null to keep none.</param>
    public static async Task<int> RunAsync(int runs, string? only, string? folder)
    {
        runs = runs > 0 ? runs : DefaultRuns;
        Way[] ways = [new("now", IsBefore: false), new("before", IsBefore: true)];
        for (var run = 0; run < runs * Weathers.Length; run++)
        {
            var weather = run % Weathers.Length;
            foreach (var way in ways)
            {
                var kept = folder is null ? null : Path.Combine(folder, $"{run + 1:00} {way.Name}.json");
                var (findings, seconds) = kept is not null && File.Exists(kept)
                    ? (Examine(RunFile.Read(kept)), double.NaN)
                    : await MeasureAsync(way, $"everyday: *{only}*", seed: run + 1, weather, kept);
                way.Add(weather, findings, seconds);
                var last = Way.HalfWidths(way.Runs[^1].Findings);
                var quiet = findings.Select(study => study.Core.QuietShare).Where(double.IsFinite).DefaultIfEmpty(double.NaN).Median();
                Say($"{run + 1,3} {Weathers[weather],-14} {way.Name,-7} {seconds,5:0} s  ",
                    $"contrasts ± {last.Median():P2}, nine in ten ± {Quantile(last):P2}, quiet {quiet:P0}");
            }
        }

        Console.WriteLine();
        ways[0].PrintStudies(ways[1]);
        Say($"{"",-8} {"weather",-14} {"contrasts ±",12} {"nine in ten",12} {"times apart",12} {"nine in ten",12} ",
            $"{"of cells",8} {"agree",8} {"told apart",11} {"several speeds",15}");
        foreach (var way in ways)
        {
            way.Print();
        }

        var now = ways[0];
        var (agreeing, pairs) = now.AgreeOfQuietCore();
        Say($"of {pairs} contrasts of two runs that tell both of a quiet core {agreeing:P1} agree");
        // What knows several speeds is counted and named above; its interval says so.
        double[] widths = [.. now.Runs.Where(run => run.Weather == 0).SelectMany(run => Way.HalfWidths(run.Findings, ofOneSpeed: true))];
        Claim[] claims =
        [
            Claim.AtMost("half-width of contrasts of one speed, quiet, median", widths.Median(), HalfWidth),
            Claim.AtMost("half-width of contrasts of one speed, quiet, nine in ten", Quantile(widths), WidestOfTen),
            Claim.AtMost("twins told apart", now.ToldApart(null), 0.05),
            Claim.AtLeast("contrasts of several runs that agree, all weathers", now.Agree(null), 0.93),
            .. now.Times(KnownWait).Select(wait => new Claim(
                $"a wait of 50 ms, {Weathers[wait.Weather]}, {wait.Variant}",
                wait.Milliseconds.ToString("0.00", CultureInfo.InvariantCulture) + " ms",
                "50 to 52 ms", wait.Milliseconds is >= 50 and <= 52)),
            .. now.BesideLoads(LongOperation).Select(time => Claim.AtMost(
                $"a sort of 17 ms, {Weathers[time.Weather]}, {time.Variant}, off what it takes quiet", time.Share, TimesBesideLoad)),
            .. runs > 1
                ? [Claim.AtMost("times of several runs beside a quiet core apart, nine in ten", Quantile(now.TimesApart(0)), TimesApart)]
                : (Claim[])[],
        ];
        foreach (var claim in claims)
        {
            Console.WriteLine($"{(claim.IsReached ? "reached" : "MISSED "),-8} {claim.What,-62} {claim.Figure,-12} asked: {claim.Asked}");
        }

        return Array.TrueForAll(claims, claim => claim.IsReached) ? 0 : 1;
    }

    private static async Task<(IReadOnlyList<StudyFindings> Findings, double Seconds)> MeasureAsync(
        Way way, string only, int seed, int weather, string? kept)
    {
        using var load = weather == 0 ? null : Load.Spin(weather, TimeSpan.FromMinutes(15));
        var plan = new RunPlan { Only = [only], Seed = seed };
        var (run, seconds) = await Instrument.RunAsync(way.IsBefore ? plan with { IsQuietSought = false } : plan);
        if (kept is not null)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(kept)!);
            RunFile.Write(run, kept);
        }

        return (Examine(run), seconds);
    }

    private static IReadOnlyList<StudyFindings> Examine(Run run) => Analyst.Examine(run, AnalysisOptions.Default);

    private static double Quantile(double[] values) => SampleStatistics.Quantile(values, 0.9);

    private sealed record Way(string Name, bool IsBefore)
    {
        public List<(int Weather, IReadOnlyList<StudyFindings> Findings, double Seconds)> Runs { get; } = [];

        public void Add(int weather, IReadOnlyList<StudyFindings> findings, double seconds) => Runs.Add((weather, findings, seconds));

        public static double[] HalfWidths(IReadOnlyList<StudyFindings> findings, bool ofOneSpeed = false)
            => [.. Cells(findings).Where(cell => !ofOneSpeed || !KnowsSeveral(findings, cell)).Select(cell => Find(findings, cell).Contrast)
                .OfType<Contrast>().SelectMany(Widths)];

        // Of what knows several speeds, at each of them.
        private static IEnumerable<double> Widths(Contrast contrast)
            => contrast.Speeds.Count == 0 ? [contrast.TimeRatio.Through(Math.Log).HalfWidth]
                : contrast.Speeds.Select(speed => speed.TimeRatio.Through(Math.Log).HalfWidth).Where(double.IsFinite);

        public IEnumerable<(int Weather, string Variant, double Milliseconds)> Times(string name)
            => from run in Runs
               from study in run.Findings
               where study.Study.Name == name
               from cell in study.Inputs[0].Cells
               select (run.Weather, cell.Variant.Name, cell.NanosecondsPerCall.Estimate * 1e-6);

        public IEnumerable<(int Weather, string Variant, double Share)> BesideLoads(string name)
            => from time in Times(name)
               where time.Weather > 0
               let quiet = Times(name).Where(other => other.Weather == 0 && other.Variant == time.Variant)
               select (time.Weather, time.Variant, Math.Abs((time.Milliseconds / quiet.Select(other => other.Milliseconds).Median()) - 1));

        // Of what knows one speed, and was told beside a quiet core, where it matters, in every run.
        public double[] TimesApart(int weather)
        {
            var runs = Runs.Where(run => run.Weather == weather).Select(run => run.Findings).ToList();
            return runs.Count < 2
                ? [double.NaN]
                : [.. Cells(runs[0]).Where(cell => runs.TrueForAll(run => !KnowsSeveral(run, cell) && IsOfQuietCore(run, cell)))
                    .Select(cell =>
            {
                double[] times = [.. runs.Select(run => Find(run, cell).NanosecondsPerCall.Estimate)];
                return times.Max(time => Math.Abs((time / times.Mean()) - 1));
            }).Where(double.IsFinite)];
        }

        public double Agree(int? weather)
        {
            var runs = Runs.Where(run => weather is null || run.Weather == weather)
                .Select(run => Contrasts(run.Findings).ToList()).ToList();
            var pairs = Pairs(runs).SelectMany(pair => pair.First.Zip(pair.Second))
                .Select(pair => DoMeet(pair.First, pair.Second) ? 1.0 : 0);
            return pairs.DefaultIfEmpty(double.NaN).Average();
        }

        // Of a core that others share, one run may tell another state than the next, and says so.
        public (double Share, int Pairs) AgreeOfQuietCore()
        {
            double[] pairs = [.. from pair in Pairs(Runs)
                                 from cell in Cells(pair.First.Findings)
                                 where IsContrastOfQuietCore(pair.First.Findings, cell) && IsContrastOfQuietCore(pair.Second.Findings, cell)
                                 let first = Find(pair.First.Findings, cell).Contrast
                                 let second = Find(pair.Second.Findings, cell).Contrast
                                 where first is not null && second is not null
                                 select DoMeet(first, second) ? 1.0 : 0];
            return (pairs.DefaultIfEmpty(double.NaN).Average(), pairs.Length);
        }

        public double ToldApart(int? weather)
            => Runs.Where(run => weather is null || run.Weather == weather)
                .SelectMany(run => run.Findings).SelectMany(study => study.Inputs)
                .Select(input => input.TwinTimeRatio is var twin && (twin.Lower > 1 + Judge.SmallestResolutionShare
                    || twin.Upper < 1 - Judge.SmallestResolutionShare) ? 1.0 : 0).Average();

        public void Print()
        {
            for (var weather = 0; weather < Weathers.Length; weather++)
            {
                var own = Runs.Where(run => run.Weather == weather).ToList();
                double[] widths = [.. own.SelectMany(run => HalfWidths(run.Findings))];
                var several = own.SelectMany(run => Cells(run.Findings).Where(cell => KnowsSeveral(run.Findings, cell))).Count();
                var apart = TimesApart(weather);
                Say($"{(weather == 0 ? Name : ""),-8} {Weathers[weather],-14} {widths.Median(),12:P2} {Quantile(widths),12:P2} ",
                    $"{apart.Median(),12:P2} {Quantile(apart),12:P2} {apart.Length,8} {Agree(weather),8:P0} {ToldApart(weather),11:P1} ",
                    $"{several,8} of {own.Sum(run => Cells(run.Findings).Count)}");
            }
        }

        public void PrintStudies(Way before)
        {
            foreach (var cell in Cells(Runs[0].Findings).Where(cell => Find(Runs[0].Findings, cell).Contrast is not null))
            {
                var several = Runs.Count(run => KnowsSeveral(run.Findings, cell));
                double Width(Way way) => way.Runs
                    .Select(run => Find(run.Findings, cell).Contrast!.TimeRatio.Through(Math.Log).HalfWidth).Median();
                var speeds = several > 0 ? $"   several speeds in {several} of {Runs.Count} runs" : "";
                List<Contrast> contrasts = [.. Runs.Select(run => Find(run.Findings, cell).Contrast!)];
                var pairs = Pairs(contrasts).ToList();
                Say($"{cell.Study["everyday: ".Length..],-22} {cell.Variant,-20} ± {Width(this),8:P2}   before ± {Width(before),8:P2}   ",
                    $"{string.Join(' ', contrasts.Select(Text)),-24} ",
                    $"agree {pairs.Count(pair => DoMeet(pair.First, pair.Second))} of {pairs.Count}   ",
                    $"sittings {string.Join(' ', Runs.Select(run => Sittings(run.Findings, cell)))}{speeds}");
            }
        }

        private static IEnumerable<(T First, T Second)> Pairs<T>(List<T> all)
            => all.SelectMany((one, index) => all.Skip(index + 1).Select(other => (one, other)));

        private static string Text(Contrast contrast) => contrast.TimeRatio.Estimate.ToString("0.000", CultureInfo.InvariantCulture);

        private static int Sittings(IReadOnlyList<StudyFindings> findings, (string Study, string Variant) cell)
            => findings.First(study => study.Study.Name == cell.Study).Sittings;

        private static bool DoMeet(Contrast one, Contrast other)
        {
            var (own, others) = (one.TimeRatio.Through(Math.Log), other.TimeRatio.Through(Math.Log));
            var reach = Math.Sqrt((own.HalfWidth * own.HalfWidth) + (others.HalfWidth * others.HalfWidth));
            return Math.Abs(own.Estimate - others.Estimate) <= reach;
        }

        private static IEnumerable<Contrast> Contrasts(IReadOnlyList<StudyFindings> findings)
            => Cells(findings).Select(cell => Find(findings, cell).Contrast).OfType<Contrast>();

        private static List<(string Study, string Variant)> Cells(IReadOnlyList<StudyFindings> findings)
            => [.. from study in findings
                   from cell in study.Inputs[0].Cells
                   select (study.Study.Name, cell.Variant.Name)];

        private static CellFindings Find(IReadOnlyList<StudyFindings> findings, (string Study, string Variant) cell)
            => findings.First(study => study.Study.Name == cell.Study).Inputs[0].Cells.First(found => found.Variant.Name == cell.Variant);

        private static bool IsOfQuietCore(IReadOnlyList<StudyFindings> findings, (string Study, string Variant) cell)
            => findings.First(study => study.Study.Name == cell.Study).Core is not { IsKnown: true } core
                || (core.IsQuiet && !Find(findings, cell).IsOfSharedCore);

        // Of both that are compared.
        private static bool IsContrastOfQuietCore(IReadOnlyList<StudyFindings> findings, (string Study, string Variant) cell)
            => IsOfQuietCore(findings, cell) && IsOfQuietCore(findings, (cell.Study, findings.First(study => study.Study.Name == cell.Study)
                .Inputs[0].Cells.First(found => found.Variant.IsBaseline).Variant.Name));

        private static bool KnowsSeveral(IReadOnlyList<StudyFindings> findings, (string Study, string Variant) cell)
            => findings.First(study => study.Study.Name == cell.Study).Caveats
                .Any(caveat => caveat.Name is "several-speeds" or "two-modes" or "sittings-disagree"
                    && caveat.Subject?.StartsWith(cell.Variant, StringComparison.Ordinal) == true);
    }
}
