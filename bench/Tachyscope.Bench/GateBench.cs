using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Targets;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>
/// Gates on everyday code under a load that comes and goes: how many close although nothing changed, and how many a true five per cent
/// closes.
/// </summary>
internal static class GateBench
{
    private const int UsualGates = 60;
    private const double WithinSeconds = 60;
    private const double MostFalse = 2.0 / 60;
    private const double LeastCaught = 57.0 / 60;

    private static readonly GateRule Rule = new();

    private static readonly string[] Recipes = ["net10.0,name=main", "net10.0,name=now", "net10.0,define=SLOWED,name=slowed"];

    /// <param name="project">Path of the studies' project.</param>
    /// <param name="gates">How many of either kind; 60 when 0.</param>
    public static async Task<int> RunAsync(string project, int gates)
    {
        var count = gates == 0 ? UsualGates : gates;
        var cache = Directory.CreateTempSubdirectory("tachyscope-bench").FullName;
        try
        {
            var workshop = new TargetWorkshop(cache);
            List<PreparedTarget> prepared = [];
            foreach (var target in TargetParser.Parse(Recipes, new Dictionary<string, string>()).Targets)
            {
                prepared.Add(await workshop.PrepareAsync(project, target, CancellationToken.None));
            }

            if (prepared.Find(target => target.Starter is null) is { } failed)
            {
                throw new InvalidOperationException(string.Join("\n", failed.Errors));
            }

            var (closed, caught, open) = (0, 0, 0);
            for (var gate = 0; gate < count; gate++)
            {
                using var load = Load.Start(TimeSpan.FromMinutes(3), isSteady: false);
                var same = await JudgeAsync([prepared[0], prepared[1]], gate + 1);
                var slow = await JudgeAsync([prepared[0], prepared[2]], gate + 1);
                closed += same.Any(cell => cell.IsFailure) ? 1 : 0;
                caught += slow.Any(cell => cell.IsFailure) ? 1 : 0;
                open += same.Count(cell => cell.Answer == GateAnswer.Unclear);
                Console.WriteLine($"{gate + 1,3}  unchanged {Text(same)}  slowed {Text(slow)}");
            }

            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"of {count} gates of unchanged code {closed} closed ({open} of their cells were not told); of {count} of code slowed "
                    + $"by 5 % {caught} closed"));
            return closed <= MostFalse * count && caught >= LeastCaught * count ? 0 : 1;
        }
        finally
        {
            Directory.Delete(cache, recursive: true);
        }
    }

    private static async Task<IReadOnlyList<GateJudgement>> JudgeAsync(PreparedTarget[] sides, int seed)
    {
        var precision = Rule.MarginShare / 2;
        var around = new ExperimentSurroundings
        {
            Machine = Surveyor.Describe(), Tool = "bench", Judge = (run, study) =>
            {
                var found = TargetAnalyst.Examine(run, study, new AnalysisOptions { AreContrastsOnly = true });
                return new Standing { IsPreciseEnough = found.IsPreciseAcross(precision), Decided = found.DecidedAcross(precision) };
            },
        };
        var plan = new RunPlan { Only = ["gated"], Seed = seed, WithinSeconds = WithinSeconds, PrecisionShare = precision };
        var experiment = new Experiment(new TargetStarters([.. sides.Select(side => side.Starter!)]), plan, around) { Targets = sides };
        var outcome = await experiment.RunAsync(CancellationToken.None);
        var run = outcome.Run ?? throw new InvalidOperationException(string.Join("\n", outcome.Refusals));
        return GateJudgement.Of(GateCell.Of([TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default)]), [Rule]);
    }

    private static string Text(IReadOnlyList<GateJudgement> judged) => string.Join(' ', judged.Select(cell =>
    {
        var ratio = cell.Cell.TimeRatio;
        return string.Create(CultureInfo.InvariantCulture, $"{ratio.Estimate - 1,6:P1} ± {ratio.HalfWidth:P1} {cell.Answer,-7}");
    }));
}
