using System.Globalization;
using Tachyscope.Bench;

var runs = args.Length > 1 ? int.Parse(args[1], CultureInfo.InvariantCulture) : 0;
switch (args.FirstOrDefault())
{
    case "known-cost":
        return await KnownCostBench.RunAsync();
    case "allocation":
        return await AllocationBench.RunAsync();
    case "twins":
        return await TwinsBench.RunAsync(runs > 0 ? runs : 100);
    case "load":
        Load.ComeAndGo(TimeSpan.FromSeconds(runs));
        return 0;
    default:
        Console.WriteLine("usage: known-cost | allocation | twins [RUNS]; see bench/README.md");
        return 2;
}
