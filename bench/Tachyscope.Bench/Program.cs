using System.Globalization;
using Tachyscope.Bench;

var runs = int.TryParse(args.ElementAtOrDefault(1), NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : 0;
switch (args.FirstOrDefault())
{
    case "known-cost":
        return await KnownCostBench.RunAsync(args.ElementAtOrDefault(1));
    case "shapes":
        return await ShapesBench.RunAsync(args.ElementAtOrDefault(1));
    case "usage":
        return await UsageBench.RunAsync();
    case "allocation":
        return await AllocationBench.RunAsync();
    case "twins":
        return await TwinsBench.RunAsync(runs > 0 ? runs : 100);
    case "load":
        Load.ComeAndGo(TimeSpan.FromSeconds(runs));
        return 0;
    default:
        Console.WriteLine("usage: known-cost [RUNTIME] | shapes [RUNTIME] | usage | allocation | twins [RUNS]; see bench/README.md");
        return 2;
}
