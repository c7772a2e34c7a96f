using System.Diagnostics;
using System.Globalization;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Tests;
using Tachyscope.History;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>How long a large history takes to save, compare and show, beside one that is nearly empty.</summary>
internal static class HistoryBench
{
    private const int Cells = 20;
    private const int Few = 50;
    private const int Times = 15;
    private const int RunsOfTrend = 200;
    private const double MostSaveMilliseconds = 50;
    private const double MostServerSaveMilliseconds = 100;
    private const double MostReadMilliseconds = 300;

    public static int Run(int runs, string? server)
    {
        var count = runs == 0 ? 100_000 : runs;
        var folder = Directory.CreateTempSubdirectory("tachyscope history").FullName;
        try
        {
            var place = server ?? Path.Combine(folder, "tachyscope.history");
            var run = new RunSimulator { Times = [.. Enumerable.Range(0, Cells).Select(cell => 100.0 + cell)], Bytes = new long[Cells],
                Rounds = 40 }.Make(1);
            var summary = RunSummary.Of(run);
            var history = RunHistory.Open(place);
            var random = new Random(1);
            var begin = Stopwatch.GetTimestamp();
            Fill(history, run, summary, Few, random);
            var few = Measure(history, run, summary);
            Fill(history, run, summary, count - Few, random);
            var filled = Stopwatch.GetElapsedTime(begin).TotalSeconds;
            var many = Measure(history, run, summary);
            Tell($"{Few:N0} runs of {Cells} cells", few);
            Tell(string.Create(CultureInfo.InvariantCulture, $"{count:N0} runs, filled in {filled:0} s"), many);
            if (server is null)
            {
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"the file holds {new FileInfo(place).Length / 1e6 / count * 1000:0.0} kB a run"));
            }

            return many.Save <= (server is null ? MostSaveMilliseconds : MostServerSaveMilliseconds)
                && many.Compare <= MostReadMilliseconds && many.Trend <= MostReadMilliseconds ? 0 : 1;
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static void Tell(string of, (double Save, double Compare, double Trend, double Memory) took)
        => Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{of}: save {took.Save:0.0} ms, compare {took.Compare:0} ms, trend of {RunsOfTrend} {took.Trend:0} ms (medians of "
                + $"{Times}); the process took {took.Memory:0} MiB at most so far"));

    // What fills has no readings worth keeping: only rows are many.
    private static void Fill(RunHistory history, Run run, RunSummary summary, int count, Random random)
    {
        var empty = run with { Studies = [.. run.Studies.Select(study => study with { Sittings = [] })] };
        history.SaveAll(Enumerable.Range(0, count).Select(_ => (empty, Changed(summary, random), (string?)null)));
    }

    private static RunSummary Changed(RunSummary summary, Random random) => summary with
    {
        Cells = [.. summary.Cells.Select(cell => cell with { Nanoseconds = cell.Nanoseconds * (1 + (0.01 * random.NextDouble())),
            Beats = cell.Beats * (1 + (0.01 * random.NextDouble())) })],
    };

    private static (double Save, double Compare, double Trend, double Memory) Measure(RunHistory history, Run run, RunSummary summary)
    {
        var random = new Random(2);
        var save = Median(() => history.Save(run, Changed(summary, random), null));
        var compare = Median(() =>
        {
            var last = history.List(new RunQuery { Most = 2 });
            RunComparison.Of(history.Find(last[1].Id)!, history.Find(last[0].Id)!, [], 0.01);
        });
        var trend = Median(() =>
        {
            var study = history.Studies()[0];
            StudyTrend.Of(study,
                [.. history.Series(new RunQuery { Study = study, Machine = summary.Machine, Most = RunsOfTrend }).Reverse()], 0.01);
        });
        return (save, compare, trend, Process.GetCurrentProcess().PeakWorkingSet64 / (1024.0 * 1024));
    }

    private static double Median(Action work)
    {
        work();
        double[] times = [.. Enumerable.Range(0, Times).Select(_ =>
        {
            var begin = Stopwatch.GetTimestamp();
            work();
            return Stopwatch.GetElapsedTime(begin).TotalMilliseconds;
        }).Order()];
        return times[Times / 2];
    }
}
