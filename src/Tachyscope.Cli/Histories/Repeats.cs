using Tachyscope.Analysis.Histories;
using Tachyscope.History;

namespace Tachyscope.Cli.Histories;

/// <summary>Runs of a history that measured the same code, from which is learnt what two times bring.</summary>
internal static class Repeats
{
    private const int Looked = 200;

    /// <summary>Pairs of runs that follow each other on machines like a run's.</summary>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public static IReadOnlyList<(RunSummary One, RunSummary Other)> Of(RunHistory? history, RunSummary run)
    {
        if (history is null)
        {
            return [];
        }

        return [.. history.Series(new RunQuery { Machine = run.Machine, Most = Looked })
            .Where(known => known.Code.Stamp is not null)
            .GroupBy(known => (known.Code.Stamp, known.Runtime))
            .SelectMany(same => same.Zip(same.Skip(1)))];
    }
}
