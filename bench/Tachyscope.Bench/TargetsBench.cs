using System.Diagnostics;
using System.Globalization;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;
using static Tachyscope.Bench.Printing;

namespace Tachyscope.Bench;

/// <summary>
/// One runtime under two names, and a build that takes one per cent longer, in many short runs, half of them under a load that
/// comes and goes: are equal targets told apart, is the difference found?
/// </summary>
internal static class TargetsBench
{
    private const double Truth = 1.01;

    // Who wants to see one per cent takes less for the smallest difference that matters.
    private const double Margin = 0.005;
    private static readonly string[] Recipes = ["net10.0", "net10.0,name=again", "net10.0,define=LONGER,name=longer"];

    /// <param name="project">Path of the studies' project.</param>
    /// <param name="runs">How many runs; 60 when 0.</param>
    public static async Task<int> RunAsync(string project, int runs)
    {
        var cache = Directory.CreateTempSubdirectory("tachyscope-bench").FullName;
        try
        {
            var targets = TargetParser.Parse(Recipes, new Dictionary<string, string>()).Targets;
            var (cold, prepared) = await PrepareAsync(new TargetWorkshop(cache), project, targets);
            var (warm, _) = await PrepareAsync(new TargetWorkshop(cache), project, targets);
            Say($"building three targets took {cold:0.0} s, and {warm:0.00} s when nothing had changed");
            var tallies = new Tally[2];
            for (var run = 0; run < (runs == 0 ? 60 : runs); run++)
            {
                var isLoaded = run % 2 == 1;
                using var load = isLoaded ? Load.Start(TimeSpan.FromSeconds(90), isSteady: false) : null;
                var found = await MeasureAsync(prepared, run + 1);
                tallies[isLoaded ? 1 : 0] = (tallies[isLoaded ? 1 : 0] ?? new Tally()).With(found);
                Say($"{run + 1,4} {(isLoaded ? "load " : "quiet")}  {string.Join("  ", found.Contrasts.Select(Text))}");
            }

            var all = tallies.OfType<Tally>().ToList();
            foreach (var (tally, weather) in all.Zip(["quiet", "under load"]))
            {
                tally.Print(weather);
            }

            Claim[] claims =
            [
                Claim.AtMost("equal targets told apart", all.Sum(tally => tally.ToldApart) / (double)all.Sum(tally => tally.Equal), 0.05),
                Claim.AtLeast("a difference of 1 % found with the right sign",
                    all.Sum(tally => tally.Found) / (double)all.Sum(tally => tally.Longer), 0.9),
            ];
            foreach (var claim in claims)
            {
                Say($"{(claim.IsReached ? "yes" : "NO "),-4} {claim.What}: {claim.Figure} ({claim.Asked})");
            }

            return Array.TrueForAll(claims, claim => claim.IsReached) ? 0 : 1;
        }
        finally
        {
            Directory.Delete(cache, recursive: true);
        }
    }

    private static async Task<(double Seconds, List<PreparedTarget> Prepared)> PrepareAsync(TargetWorkshop workshop, string project,
        IReadOnlyList<Target> targets)
    {
        var begin = Stopwatch.GetTimestamp();
        var prepared = new List<PreparedTarget>();
        foreach (var target in targets)
        {
            prepared.Add(await workshop.PrepareAsync(project, target, CancellationToken.None));
            if (prepared[^1].Starter is null)
            {
                throw new InvalidOperationException(string.Join("\n", prepared[^1].Errors));
            }
        }

        return (Stopwatch.GetElapsedTime(begin).TotalSeconds, prepared);
    }

    private static async Task<StudyOnTargets> MeasureAsync(List<PreparedTarget> prepared, int seed)
    {
        var around = new ExperimentSurroundings { Machine = Surveyor.Describe(), Tool = "bench" };
        var experiment = new Experiment(new TargetStarters([.. prepared.Select(target => target.Starter!)]),
            new RunPlan { Only = ["across targets"], Seed = seed, MarginShare = Margin }, around) { Targets = prepared };
        var outcome = await experiment.RunAsync(CancellationToken.None);
        var run = outcome.Run ?? throw new InvalidOperationException(string.Join("\n", outcome.Refusals));
        return TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default);
    }

    private static string Text(TargetContrast contrast)
        => string.Create(CultureInfo.InvariantCulture,
            $"{(contrast.Target == 1 ? "equal" : "longer")} {contrast.TimeRatio.Estimate - 1,6:P2} ± {contrast.TimeRatio.HalfWidth:P2} "
                + $"{contrast.Verdict}");

    private sealed class Tally
    {
        private readonly List<TargetContrast> _contrasts = [];

        public int Equal => _contrasts.Count(contrast => contrast.Target == 1);

        public int Longer => _contrasts.Count(contrast => contrast.Target == 2);

        public int ToldApart => _contrasts.Count(contrast => contrast is { Target: 1, Verdict: Verdict.Faster or Verdict.Slower });

        public int Found => _contrasts.Count(contrast => contrast is { Target: 2, Verdict: Verdict.Slower });

        public Tally With(StudyOnTargets found)
        {
            _contrasts.AddRange(found.Contrasts);
            return this;
        }

        public void Print(string weather)
        {
            double Held(int target, double truth)
                => _contrasts.Where(contrast => contrast.Target == target)
                    .Select(contrast => contrast.TimeRatio.Lower <= truth && truth <= contrast.TimeRatio.Upper ? 1.0 : 0).Mean();
            Say($"{weather,-10}  equal told apart {ToldApart} of {Equal}, 1 % found {Found} of {Longer}; intervals that held the truth: ",
                $"{Held(1, 1):P1} and {Held(2, Truth):P1}; half-widths ",
                $"{_contrasts.Select(contrast => contrast.TimeRatio.HalfWidth).Median():P2} (median)");
        }
    }
}
