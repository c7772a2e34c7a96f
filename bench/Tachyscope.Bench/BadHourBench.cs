using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Bench;

/// <summary>What saved runs would have told, had their core been shared nearly all the time, beside what they tell.</summary>
/// <remarks>
/// In every sitting, rounds in which the core was ours for a fifth of the gauges and more give way to others of the same sitting in which
/// it was not, but for a share of them. Sittings with fewer than three of the latter are left out, and studies with fewer than six left.
/// </remarks>
internal static class BadHourBench
{
    private const double LeastShared = 0.8;
    private const int LeastRounds = 3;
    private const int LeastSittings = 6;
    private const int MostlyQuietRounds = 10;
    private const double MostSpread = 0.02;
    private const double Near = 0.015;

    private static readonly double[] Kept = [0.05, 0.15, 0.3];
    private static readonly AnalysisOptions Contrasts = new() { AreContrastsOnly = true };

    /// <summary>Reads the runs of a folder.</summary>
    /// <returns>The exit code.</returns>
    public static int Run(string folder)
    {
        var runs = Directory.GetFiles(folder, "*.json").Order(StringComparer.Ordinal).Select(RunFile.Read).ToList();
        Printing.Say($"{"quiet rounds kept",-18} {"told beside",-18} {"contrasts",9} {"hold",6} {"half-width, median",19} ",
            $"{"the other way round",20}");
        var (all, holding, reversed) = (0, 0, 0);
        foreach (var kept in Kept)
        {
            var pairs = runs.SelectMany((run, number) => Pairs(run, kept, number)).ToList();
            foreach (var isQuiet in (bool[])[true, false])
            {
                var told = pairs.FindAll(pair => pair.IsQuiet == isQuiet);
                var (hold, turned) = (told.Count(pair => pair.Holds), told.Count(pair => pair.IsReversed));
                Printing.Say($"{kept,-18:P0} {(isQuiet ? "a quiet core" : "a shared one, said"),-18} {told.Count,9} {hold,6} ",
                    $"{told.Select(pair => pair.HalfWidth).Median(),19:P1} {turned,20}");
                (all, holding, reversed) = isQuiet ? (all + told.Count, holding + hold, reversed + turned) : (all, holding, reversed);
            }
        }

        SayTimes(runs);
        Printing.Say($"of what is told of a quiet core {(double)holding / all:P1} hold (asked: 93 %), and {reversed} of {all} are told ",
            $"the other way round (asked: 1 %)");
        return holding >= 0.93 * all && reversed <= 0.01 * all ? 0 : 1;
    }

    // As they were read, beside what all of them together read beside a quiet core.
    private static void SayTimes(List<Run> runs)
    {
        var times = runs.SelectMany(run => run.Studies).GroupBy(study => study.Study.Name).SelectMany(Times).ToList();
        double[] off = [.. times.Select(time => time.Off)], widths = [.. times.Select(time => time.HalfWidth)];
        Printing.Say($"times told of a quiet core, as they were read: {times.Count}, of what has one speed; off the mean of all quiet ",
            $"readings by {off.Median():P1} (median), {off.Quantile(0.9):P1} (nine in ten); ± {widths.Median():P1} and ± ",
            $"{widths.Quantile(0.9):P1}; {times.Count(time => time.Holds) / (double)times.Count:P1} hold it within 1.5 %");

        IEnumerable<(double Off, bool Holds, double HalfWidth)> Times(IEnumerable<StudyRecord> alike)
        {
            var first = alike.First();
            var quiet = first with { Sittings = [.. alike.SelectMany(study => study.Sittings).Select(OfQuiet).OfType<SittingRecord>()] };
            if (quiet.Sittings.Count < LeastSittings)
            {
                yield break;
            }

            var truths = Analyst.Examine(runs[0], quiet, AnalysisOptions.Default).Inputs;
            foreach (var found in alike.Select(study => Analyst.Examine(runs[0], study, AnalysisOptions.Default)))
            {
                foreach (var (truth, cell) in truths.Zip(found.Inputs).SelectMany(input => input.First.Cells.Zip(input.Second.Cells)))
                {
                    var (known, told) = (truth.NanosecondsPerCall, cell.NanosecondsPerCall);
                    if (known.IsMeasured && known.HalfWidth < MostSpread * known.Estimate && told is { IsMeasured: true, IsBounded: true }
                        && found.Core.IsQuiet && !cell.IsOfSharedCore && truth.Speeds.Count < 2)
                    {
                        yield return (Math.Abs((told.Estimate / known.Estimate) - 1),
                            told.Lower * (1 - Near) <= known.Estimate && known.Estimate <= told.Upper * (1 + Near),
                            told.HalfWidth / told.Estimate);
                    }
                }
            }
        }
    }

    private static SittingRecord? OfQuiet(SittingRecord sitting)
    {
        var most = TurnGauge.QuietReach * sitting.LowGauges.Where(low => low > 0).DefaultIfEmpty(0).Min();
        var quiet = sitting.Gauges.Where(gauge => gauge.Gauges.All(read => read <= most)).Select(gauge => (gauge.Round, gauge.Place))
            .ToHashSet();
        var readings = sitting.Readings.Where(reading => quiet.Contains((reading.Round, reading.Place))).ToList();
        return readings.Select(reading => reading.Round).Distinct().Count() < MostlyQuietRounds ? null
            : sitting with { Readings = readings, Gauges = [.. sitting.Gauges.Where(gauge => quiet.Contains((gauge.Round, gauge.Place)))] };
    }

    private static IEnumerable<(bool IsQuiet, bool Holds, bool IsReversed, double HalfWidth)> Pairs(Run run, double kept, int seed)
    {
        var random = new Random(seed);
        foreach (var study in run.Studies)
        {
            var sittings = study.Sittings.Select(sitting => Shared(sitting, kept, random)).OfType<SittingRecord>().ToList();
            var (full, thinned) = (Examine(run, study), sittings.Count < LeastSittings ? null
                : Examine(run, study with { Sittings = sittings }));
            foreach (var (own, other) in full.Inputs.Zip(thinned?.Inputs ?? []).SelectMany(pair => pair.First.Cells.Zip(pair.Second.Cells)))
            {
                if (own.Contrast?.TimeRatio is { IsMeasured: true } truth && other.Contrast?.TimeRatio is { IsMeasured: true } told)
                {
                    yield return (thinned!.Core.IsQuiet && !other.IsOfSharedCore, told.Lower <= truth.Upper && truth.Lower <= told.Upper,
                        (own.Contrast.Verdict, other.Contrast.Verdict)
                            is (Verdict.Faster, Verdict.Slower) or (Verdict.Slower, Verdict.Faster),
                        told.Through(Math.Log).HalfWidth);
                }
            }
        }
    }

    private static StudyFindings Examine(Run run, StudyRecord study) => Analyst.Examine(run, study, Contrasts);

    private static SittingRecord? Shared(SittingRecord sitting, double kept, Random random)
    {
        var most = TurnGauge.QuietReach * sitting.LowGauges.DefaultIfEmpty(0).Max();
        var rounds = sitting.Gauges.GroupBy(gauge => gauge.Round).OrderBy(round => round.Key).Select(round => (Round: round.Key,
            Shared: round.SelectMany(gauge => gauge.Gauges).Select(read => read > most ? 1.0 : 0).DefaultIfEmpty(0).Average())).ToList();
        int[] shared = [.. rounds.Where(round => round.Shared >= LeastShared).Select(round => round.Round)];
        if (most == 0 || shared.Length < LeastRounds)
        {
            return null;
        }

        var readings = sitting.Readings.ToLookup(reading => reading.Round);
        var gauges = sitting.Gauges.ToLookup(gauge => gauge.Round);
        var taken = rounds.ConvertAll(round => (round.Round, From: round.Shared >= LeastShared || random.NextDouble() < kept
            ? round.Round
            : shared[random.Next(shared.Length)]));
        return sitting with
        {
            Readings = [.. taken.SelectMany(round => readings[round.From].Select(reading => reading with { Round = round.Round }))],
            Gauges = [.. taken.SelectMany(round => gauges[round.From].Select(gauge => gauge with { Round = round.Round }))],
        };
    }
}
