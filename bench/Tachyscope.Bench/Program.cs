using System.Globalization;
using Tachyscope.Bench;

var runs = int.TryParse(args.ElementAtOrDefault(1), NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : 0;
if (args.ElementAtOrDefault(3) == Load.Tied)
{
    Load.EndWithInput();
}

switch (args.FirstOrDefault())
{
    case "known-cost":
        return await KnownCostBench.RunAsync(args.ElementAtOrDefault(1));
    case "shapes":
        return await ShapesBench.RunAsync(args[1..]);
    case "usage":
        return await UsageBench.RunAsync();
    case "calls":
        return await CallsBench.RunAsync();
    case "allocation":
        return await AllocationBench.RunAsync();
    case "scale":
        return ScaleBench.Run();
    case "pages":
        return await PagesBench.RunAsync();
    case "history":
        return HistoryBench.Run(runs, args.ElementAtOrDefault(2));
    case "gate" when Directory.Exists(args.ElementAtOrDefault(1)):
        return await GateBench.RunAsync(args[1],
            int.TryParse(args.ElementAtOrDefault(2), NumberStyles.None, CultureInfo.InvariantCulture, out var gates) ? gates : 0);
    case "pinpoint" when File.Exists(args.ElementAtOrDefault(1)):
        return await PinpointBench.RunAsync(Path.GetFullPath(args[1]),
            int.TryParse(args.ElementAtOrDefault(2), NumberStyles.None, CultureInfo.InvariantCulture, out var hunts) ? hunts : 0);
    case "try" when File.Exists(args.ElementAtOrDefault(1)):
        return await TryBench.RunAsync(
            Path.GetFullPath(args[1]),
            int.TryParse(args.ElementAtOrDefault(2), NumberStyles.None, CultureInfo.InvariantCulture, out var tries) ? tries : 8,
            args.ElementAtOrDefault(3));
    case "bad-hour" when Directory.Exists(args.ElementAtOrDefault(1)):
        return BadHourBench.Run(args[1]);
    case "listings":
        return ListingsBench.Run();
    case "guests" when Directory.Exists(args.ElementAtOrDefault(1)):
        return await GuestsBench.RunAsync(args[1],
            int.TryParse(args.ElementAtOrDefault(2), NumberStyles.None, CultureInfo.InvariantCulture, out var shortRuns) ? shortRuns : 0);
    case "compile":
        return ListingsBench.Compile();
    case "answers":
        return AnswersBench.Run();
    case "pooling":
        return PoolingBench.Run();
    case "testing":
        return TestingBench.Run(runs);
    case "everyday":
        return await EverydayBench.RunAsync(runs, args.ElementAtOrDefault(2), args.ElementAtOrDefault(3));
    case "speeds":
        return await SpeedsBench.RunAsync(
            args.ElementAtOrDefault(1), int.TryParse(args.ElementAtOrDefault(2), NumberStyles.None, CultureInfo.InvariantCulture,
                out var provoked) ? provoked : 0);
    case "targets" when Directory.Exists(args.ElementAtOrDefault(1)):
        return await TargetsBench.RunAsync(
            args[1], int.TryParse(args.ElementAtOrDefault(2), NumberStyles.None, CultureInfo.InvariantCulture, out var asked) ? asked : 0);
    case "evidence" when args.ElementAtOrDefault(1) is "full" or "short":
        return await EvidenceBench.RunAsync(isFull: args[1] == "full", args.ElementAtOrDefault(2));
    case "load":
        Load.ComeAndGo(TimeSpan.FromSeconds(runs));
        return 0;
    case "steady-load":
        Load.Stay(TimeSpan.FromSeconds(runs), int.Parse(args[2], CultureInfo.InvariantCulture));
        return 0;
    default:
        Console.WriteLine(
            "usage: known-cost [RUNTIME] | shapes [RUNTIME] [SHAPE…] | usage | calls | allocation | scale | pages | "
                + "history [RUNS] [SERVER] | listings | answers | pooling | testing [RUNS]"
            + " | try TOOL [RUNS] | bad-hour FOLDER"
            + " | speeds [simulated|provoked|explained|small|pools|cold] [RUNS]"
            + " | everyday [RUNS] [PART OF A NAME] [FOLDER] | targets STUDIES-FOLDER [RUNS] | gate STUDIES-FOLDER [GATES]"
            + " | pinpoint TOOL [HUNTS]"
            + " | guests tests/Tachyscope.Guests/sources [RUNS]"
            + " | evidence full|short [twins|look-ups|schedule|doubts]; see bench/README.md");
        return 2;
}
