using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Commands;
using Tachyscope.Reports.Studies;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Rehearsals;

/// <summary>
/// Examines, shows and writes a made-up run while the first worker starts: what the runtime has to compile for an answer is compiled then,
/// on a processor that has nothing to do, and not between two sittings or while the answer is waited for.
/// </summary>
internal static class AnswerRehearsal
{
    private static int s_isBegun;

    /// <summary>Begins once; does nothing where there is no other processor.</summary>
    /// <param name="around">Where results go, which sees nothing of it.</param>
    /// <param name="isPlain">Whether results go without colour.</param>
    /// <param name="shown">What is shown of a run.</param>
    public static void Begin(Surroundings around, bool isPlain, ReportOptions shown)
    {
        if (Environment.ProcessorCount > 1 && Interlocked.Exchange(ref s_isBegun, 1) == 0)
        {
            _ = Task.Run(() => Hold(around with { Output = TextWriter.Null }, isPlain, shown));
        }
    }

    /// <summary>Goes through it.</summary>
    public static void Hold(Surroundings around, bool isPlain, ReportOptions shown)
    {
        var run = MadeUpRun.Make();
        var study = run.Studies[0];
        var known = TargetAnalyst.Examine(run, study, new AnalysisOptions { AreContrastsOnly = true });
        _ = (known.SittingsWorth, known.Targets[0].Decided(precisionShare: null));
        var found = TargetAnalyst.Examine(run, study, new AnalysisOptions());
        var display = new RunDisplay(around, isPlain);
        display.Show(study, StudyReporter.ReportTargets(run, found, null, shown));
        display.ShowRun(run, [found], isMoreShown: false);
        RunFile.Write(run, Stream.Null);
        RunSummary.Of(run, [found]);
    }
}
