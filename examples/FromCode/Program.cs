using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Targets;
using Tachyscope.Runs;

// FromCode RUN.json reads a saved run; FromCode PROJECT [PATTERN] measures the studies of a project whose names match.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args.Length == 0)
{
    Console.Error.WriteLine("Name a saved run, or a project to measure.");
    return 2;
}

var run = args[0].EndsWith(".json", StringComparison.OrdinalIgnoreCase) ? Run.Read(args[0]) : await MeasureAsync(args[0], args.Skip(1));
if (run is null)
{
    return 3;
}

foreach (var study in Analyst.Examine(run))
{
    foreach (var input in study.Inputs)
    {
        foreach (var cell in input.Cells.Where(cell => cell.Contrast is not null))
        {
            var ratio = cell.Contrast!.TimeRatio;
            Console.WriteLine($"{study.Study.Name}, {input.Input.Label}, {cell.Variant.Name}: {cell.Contrast.Verdict}, "
                + $"{ratio.Estimate:0.000} of the baseline's time ({ratio.Lower:0.000} to {ratio.Upper:0.000})");
        }
    }
}

return 0;

static async Task<Run?> MeasureAsync(string project, IEnumerable<string> patterns)
{
    using var target = await new TargetWorkshop(BuildCache.DefaultFolder)
        .PrepareAsync(project, new Target { Name = "" }, CancellationToken.None);
    if (target.Starter is null)
    {
        Console.Error.WriteLine(string.Join('\n', target.Errors));
        return null;
    }

    var plan = new RunPlan { WithinSeconds = 3, Only = [.. patterns] };
    var around = new ExperimentSurroundings { Machine = Surveyor.Describe(), Tool = "FromCode" };
    var outcome = await new Experiment(target.Starter, plan, around).RunAsync(CancellationToken.None);
    outcome.Refusals.ToList().ForEach(Console.Error.WriteLine);
    return outcome.Run;
}
