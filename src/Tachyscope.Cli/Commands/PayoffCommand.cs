using System.CommandLine;
using Spectre.Console;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Payoffs;
using Tachyscope.Cli.Options;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope payoff RUN.</summary>
internal static class PayoffCommand
{
    public static Command Create(Surroundings around)
    {
        var saved = new SavedRun();
        var calls = new Option<double?>("--calls")
        {
            Description = "How often one caller calls it, such as 2000/s, 40k/min, 3M/h or 500/day; what the study declares by default.",
            HelpName = "RATE",
            CustomParser = RateValue.Parse,
        };
        var callers = new Option<int?>("--callers")
        {
            Description = "Processes, machines or users that call as often; 1 by default.",
            HelpName = "N",
            CustomParser = PositiveValue.ParseWhole,
        };
        var price = new Option<double?>("--price")
        {
            Description = "Price of an hour of one processor, in any currency, such as 0.04.",
            HelpName = "PRICE",
            CustomParser = PositiveValue.Parse,
        };
        var plain = new PlainOption();
        var command = new Command("payoff", "Tell what the differences of a saved run are worth at your own rate of calls.") { calls, callers, price, plain.Option };
        saved.AddTo(command);
        command.SetAction(async (result, _) =>
        {
            var (found, exitCode) = await saved.ReadAsync(around, result);
            if (found is not { } run)
            {
                return exitCode;
            }

            var asked = run.Studies.Select(study => (Study: study, Terms: Terms(PayoffReporter.Terms(study.Study), result.GetValue(calls), result.GetValue(callers), result.GetValue(price)))).ToList();
            if ((result.GetValue(callers) is not null || result.GetValue(price) is not null) && asked.Find(study => study.Terms is null).Study is { } silent)
            {
                return await around.ComplainAsync(
                    [
                        $"\"{silent.Study.Name}\" does not say how often it is called, so that --callers and --price say nothing of it; "
                            + "add --calls, such as --calls 2000/s, or choose others with --only.",
                    ],
                    ExitCode.WrongUse);
            }

            var console = TerminalConsole.For(around.Output, plain.IsPlain(result) ? null : around.Terminal);
            foreach (var (study, terms) in asked)
            {
                var findings = Analyst.Examine(run, study, AnalysisOptions.Default);
                FigureView.Write(PayoffReporter.Report(findings, terms), console);
                foreach (var caveat in findings.Caveats.Where(caveat => caveat.Name == "impossible-readings"))
                {
                    console.WriteLine($"  caveat {caveat.Name} – {caveat.Evidence}. Way out: {caveat.WayOut}.");
                }
            }

            return ExitCode.Fine;
        });
        return command;
    }

    // What is said on the command line goes before what the study declares.
    private static PayoffTerms? Terms(PayoffTerms? declared, double? callsPerSecond, int? callers, double? price)
        => (callsPerSecond ?? declared?.CallsPerSecond) is not { } calls ? null : new PayoffTerms
        {
            CallsPerSecond = calls,
            Callers = callers ?? (callsPerSecond is null ? declared!.Callers : 1),
            PricePerProcessorHour = price,
        };
}
