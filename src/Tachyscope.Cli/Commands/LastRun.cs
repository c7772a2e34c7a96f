using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Lab.Storing;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>The run measured last, kept so that whatever is asked afterwards need not be measured again.</summary>
internal static class LastRun
{
    /// <summary>Its file, whether it is there or not.</summary>
    public static string Path(string cache) => System.IO.Path.Combine(cache, "last-run.json");

    /// <summary>Keeps it, and what it saw of the machine; a convenience, so that what cannot be written is not.</summary>
    public static void Keep(string cache, Run run, IEnumerable<StudyOnTargets> found)
    {
        var cycles = found.SelectMany(study => study.Targets).Select(study => study.Core.Calls.QuietCycles);
        new GaugeFile(cache, run.Machine).KeepQuietCall(SampleStatistics.Median([.. cycles]));
        try
        {
            Directory.CreateDirectory(cache);
            RunFile.Write(run, Path(cache));
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
        }
    }
}
