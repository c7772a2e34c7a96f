using System.CommandLine;
using System.Runtime.InteropServices;
using Tachyscope.Analysis.Machines;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Storing;
using Tachyscope.Reports.Machines;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope survey.</summary>
internal static class SurveyCommand
{
    public static Command Create(Surroundings around)
    {
        var plain = new PlainOption();
        var limits = new Option<bool>("--limits")
        {
            Description = "Measure what one processor can read and compute at most, and keep it for the rates that runs show.",
        };
        var command = new Command("survey", "Tell what this machine is: its clock, its caches, and how steady it is now.")
        {
            limits, plain.Option,
        };
        command.SetAction(async (result, _) =>
        {
            var console = TerminalConsole.For(around.Output, plain.IsPlain(result) ? null : around.Terminal);
            var survey = Surveyor.Take();
            var (known, problem) = Limits(around, survey, result.GetValue(limits));
            var low = LowGauge(around, survey);
            var gauges = new GaugeFile(around.Cache, survey.Machine);
            SurveyView.Write(SurveyReporter.Report(
                survey with { Limits = known, LowGauge = low, QuietCallCycles = gauges.QuietCallCycles }), console);
            gauges.KeepQuietCall(CallFindings.Of(survey.Cores, low).QuietCycles);
            if (problem is not null)
            {
                return await around.ComplainAsync([problem], ExitCode.CouldNotRun);
            }

            return ExitCode.Fine;
        });
        return command;
    }

    // What earlier runs saw counts too: a core may be shared for as long as a survey lasts.
    private static int LowGauge(Surroundings around, MachineSurvey survey)
    {
        var quiet = new QuietCore(
            [new() { Runtime = survey.Runtime, Architecture = RuntimeInformation.ProcessArchitecture.ToString().ToLowerInvariant() }],
            new GaugeFile(around.Cache, survey.Machine));
        var (low, isSharp) = CoreNoise.LowOf(survey.Cores);
        quiet.Note(0, low, isSharp);
        return quiet.LowOf(0);
    }

    private static (MachineLimits? Limits, string? Problem) Limits(Surroundings around, MachineSurvey survey, bool areMeasured)
    {
        if (!areMeasured)
        {
            return (LimitsFile.Find(around.Cache, survey.Machine), null);
        }

        var limits = LimitsSurveyor.Take(survey.Caches, TimeProvider.System.GetUtcNow());
        try
        {
            LimitsFile.Keep(around.Cache, limits);
            return (limits, null);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            var wayOut = $"name a folder that can be written with {BuildCache.Variable}.";
            return (limits, $"the limits could not be kept in {around.Cache}: {exception.Message}; {wayOut}");
        }
    }
}
