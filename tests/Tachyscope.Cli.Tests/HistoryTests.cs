using Microsoft.Data.Sqlite;
using Tachyscope.History;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>What the tool keeps of runs, and what it says of those it kept.</summary>
public sealed class HistoryTests : IDisposable
{
    private readonly ScriptedProject _project = new(ScriptedStudies.Sound());

    private string Place => Path.Combine(_project.Folder, "tachyscope.history");

    public void Dispose() => _project.Dispose();

    [Fact]
    public async Task A_history_that_is_begun_in_a_repository_says_so_once()
    {
        Directory.CreateDirectory(Path.Combine(_project.Folder, ".git"));

        var outputs = new[] { (await _project.RunAsync("--save")).Output, (await _project.RunAsync("--save")).Output };

        Assert.Equal([true, false], outputs.Select(output => output.Contains(", begun at the root of the repository: ",
            StringComparison.Ordinal)));
    }

    [Fact]
    public async Task A_run_is_kept_found_again_and_compared_with_the_next()
    {
        var first = await _project.RunAsync("--save", "before");
        using var slower = new ScriptedProject(ScriptedStudies.Sound() with { Rows = [new() { Bytes = 48 },
            new() { Nanoseconds = [120] }] });
        var second = await slower.RunAsync("--save", "--history", Place);

        Assert.True(first.ExitCode == ExitCode.Fine, first.Error);
        Assert.Contains("kept as run 1 \"before\" in ", first.Output, StringComparison.Ordinal);
        Assert.DoesNotContain("since run", first.Output, StringComparison.Ordinal);
        Assert.Matches(@"lamps since run 1 \(before\) of \d{4}-\d\d-\d\d \d\d:\d\d: allocates more: steady · a lamp 24 B → 48 B; "
            + @"got slower: quick · a lamp × 2\.4", second.Output);
        Assert.Contains("kept as run 2 in ", second.Output, StringComparison.Ordinal);

        var (exitCode, told, error) = await AskAsync("compare", "before");
        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Matches(@"(?m)^from  run 1 \(before\) · ", told);
        Assert.Matches(@"(?m)^lamps · ▼ allocates more: steady · a lamp 24 B → 48 B$", told);
        Assert.Matches(@"(?m)^lamps · ▼ got slower: quick · a lamp × 2\.\d+ (± |\()", told);
        Assert.Matches(@"(?m)^lamps · quick · a lamp: ▼ × 2\.\d+ .*, [\d.]+ ns → [\d.]+ ns, 0 B$", told);
        Assert.Matches(@"(?m)^two runs of the same code lie \d", told);

        Assert.Contains("run 2 · ", (await AskAsync("history")).Output, StringComparison.Ordinal);
        var shown = (await AskAsync("history", "show", "last")).Output;
        Assert.Contains("lamps (2 cells)", shown, StringComparison.Ordinal);
        Assert.Contains("tachyscope run …/Tachyscope.Scripted.dll --save", shown, StringComparison.Ordinal);
        Assert.DoesNotContain(slower.Folder, shown, StringComparison.Ordinal);
        Assert.Contains("lamps · quick · ", (await AskAsync("report", "1")).Output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Other_work_is_told_and_not_compared()
    {
        Script At(string input, string answer, double nanoseconds) => ScriptedStudies.Sound() with
        {
            InputHash = input, Rows = [new() { Answer = "7" }, new() { Answer = answer, Nanoseconds = [nanoseconds] }],
            Studies = [.. ScriptedStudies.Sound().Studies.Select(study => study with { Tolerance = 0 })],
        };
        async Task<string> KeepAsync(Script script)
        {
            using var project = new ScriptedProject(script);
            return (await project.RunAsync("--save", "--history", Place)).Output;
        }

        await KeepAsync(At("dusk", "7", 50));
        var since = await KeepAsync(At("dawn", "7", 200));
        Assert.Matches(@"lamps since run 1 of \S+ \S+: not the same work, and not compared: a lamp \(another input\)", since);
        Assert.DoesNotContain("got slower", since, StringComparison.Ordinal);
        Assert.Matches("(?m)^lamps · quick · a lamp: another input, ", (await AskAsync("compare", "1", "2")).Output);

        // All scripts are answered by one program: what it answers otherwise says nothing.
        await KeepAsync(At("dawn", "8", 400));
        var told = (await AskAsync("compare", "2", "3")).Output;
        Assert.Contains("got slower: quick · a lamp × 2.0", told, StringComparison.Ordinal);
        Assert.Contains("answers otherwise with the same code too, so that nothing follows from its answer: lamps · quick · a lamp", told,
            StringComparison.Ordinal);

        Do("UPDATE runs SET stamp = 'other code' WHERE id = 3");
        Assert.Matches(@"(?m)^lamps · ▼ not the same work, and not compared: quick · a lamp \(another answer, 7 → 8\)$",
            (await AskAsync("compare", "2", "3")).Output);
        var trend = (await AskAsync("trend", "lamps")).Output;
        Assert.Matches(@"(?m)^lamps · ▼ quick · a lamp: another input, from run 2 of ", trend);
        Assert.Matches(@"(?m)^lamps · ▼ quick · a lamp: another answer, 7 → 8, from run 3 of ", trend);
    }

    [Fact]
    public async Task Runs_are_labelled_exported_imported_and_removed()
    {
        await KeepAsync(3, _ => 50);
        var folder = Path.Combine(_project.Folder, "out");

        Assert.Equal("run 1 is \"dusk\" now\n", Line(await AskAsync("history", "label", "1", "dusk")));
        Assert.Contains("the label \"dusk\" is near", (await AskAsync("compare", "dsuk")).Error, StringComparison.Ordinal);
        Assert.Equal($"written 2 of 2 runs to {folder}\n", Line(await AskAsync("history", "export", folder, "dusk", "last")));
        Assert.Equal(["run-1.json", "run-3.json"], Directory.GetFiles(folder).Select(Path.GetFileName).Order());
        Assert.Equal("removed run 1 (dusk), run 2\n", Line(await AskAsync("history", "remove", "dusk", "last~1")));
        Assert.Equal("imported 2 of 2 runs\n", Line(await AskAsync("history", "import", folder)));
        Assert.Equal([5L, 4, 3], RunHistory.OpenToRead(Place).List(new RunQuery()).Select(run => run.Id));
        var (exitCode, _, error) = await AskAsync("history", "remove", "last", "nobody");
        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("nothing was removed", error, StringComparison.Ordinal);
        Assert.Contains("tachyscope history label --help lists what is allowed",
            (await AskAsync("history", "label")).Error, StringComparison.Ordinal);
        Assert.Contains("holds 3 runs, so that there is no last~7", (await AskAsync("compare", "last~7")).Error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_trend_tells_where_a_study_changed()
    {
        await KeepAsync(24, run => run < 15 ? 50 : 60);

        var (exitCode, told, error) = await AskAsync("trend", "lam*");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Matches(@"(?m)^lamps · ▼ quick · a lamp got slower, × 1\.(19|20|21)\d* (± \S+|\(.*\)), with run 16 of ", told);
        Assert.Matches(@"(?m)^lamps · = 1 cell without a change that shows$", told);
        Assert.Matches(@"(?m)^lamps · quick · a lamp: first \d+\.\d+ ns, now \d+\.\d+ ns [▁-█]{24}$", told);
        Assert.DoesNotContain("· steady ·", told, StringComparison.Ordinal);
        Assert.Contains("· steady ·", (await AskAsync("trend", "lamps", "--every-cell", "--runs", "10")).Output,
            StringComparison.Ordinal);
        Assert.Contains("holds no study \"lmaps\"; \"lamps\" is the nearest",
            (await AskAsync("trend", "lmaps")).Error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_run_that_cannot_be_kept_waits_as_a_file_until_it_can_be()
    {
        const string away = "postgresql://keeper@127.0.0.1:1/lamps";

        var (exitCode, output, error) = await _project.RunAsync("--save", "in the fog", "--history", away);

        Assert.Equal(ExitCode.CouldNotRun, exitCode);
        Assert.Contains("lamps · quick · ", output, StringComparison.Ordinal);
        Assert.Matches("could not be kept in its history: lamps on 127.0.0.1 cannot be reached: .* It is in .*waiting-runs.* instead",
            error);
        Assert.Contains("1 that could not be kept before wait for tachyscope history import",
            (await _project.RunAsync("--save")).Output, StringComparison.Ordinal);
        Assert.Equal("imported 1 of 1 runs\n", Line(await AskAsync("history", "import")));
        Assert.Equal(["in the fog", null], RunHistory.OpenToRead(Place).List(new RunQuery()).Select(run => run.Label));
        Assert.Contains("nothing to import", (await AskAsync("history", "import")).Error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_cannot_be_compared_is_told_before_it_misleads()
    {
        await KeepAsync(1, _ => 50);
        using var fog = new ScriptedProject(ScriptedStudies.Sound() with { Studies = [ScriptedStudies.Of("fog", "steady")] });
        await fog.RunAsync("--save", "fog", "--history", Place);
        await _project.RunAsync("--save", "--history", Place);
        Do("UPDATE runs SET machine = 'a lamp room' WHERE id = 1");

        Assert.Contains("run 2 (fog) and run 3 share no cell: run 2 (fog) has \"fog\", run 3 has \"lamps\"; name a run of the same study",
            (await AskAsync("compare", "fog", "last")).Error, StringComparison.Ordinal);
        var (exitCode, _, error) = await AskAsync("compare", "1", "3");
        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("run 1 was measured on a lamp room, run 3 on ", error, StringComparison.Ordinal);
        Assert.Contains("caveat unlike-machines: a lamp room then, ", (await AskAsync("compare", "1", "3", "--insist")).Output,
            StringComparison.Ordinal);
        await File.WriteAllTextAsync(_project.Saved, "a log of the pier that is no history, however long it is and whatever it tells "
            + "of the fog");
        var (refused, measured, why) = await _project.RunAsync("--save", "--history", _project.Saved);
        Assert.Equal((ExitCode.WrongUse, ""), (refused, measured));
        Assert.Contains("is no history: it holds something else", why, StringComparison.Ordinal);
        Do("UPDATE history_version SET version = 99");
        Assert.Contains("version 99", (await _project.RunAsync("--save", "--history", Place)).Error, StringComparison.Ordinal);
        Assert.Contains("take a newer tool", (await AskAsync("compare", "1")).Error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Killed_while_it_saves_it_keeps_whole_runs_and_goes_on()
    {
        await _project.RunAsync("--out", _project.Saved);
        var folder = Directory.CreateDirectory(Path.Combine(_project.Folder, "many")).FullName;
        for (var run = 0; run < 40; run++)
        {
            File.Copy(_project.Saved, Path.Combine(folder, FormattableString.Invariant($"{run:00}.json")));
        }

        const int kill = 9;
        await ToolProcess.RunAsync([ToolProcess.Tool, "history", "import", folder, "--history", Place],
            signalWhen: () => File.Exists(Place) && new FileInfo(Place).Length > 100_000, signal: kill);

        // Whoever reads first finds it whole, too.
        var history = RunHistory.OpenToRead(Place);
        var kept = history.List(new RunQuery());
        Assert.InRange(kept.Count, 1, 40);
        Assert.All(kept, run => Assert.Equal((2, 1), (history.Find(run.Id)!.Cells.Count, history.Read(run.Id)!.Studies.Count)));
        Assert.Equal("imported 1 of 1 runs\n", Line(await AskAsync("history", "import", _project.Saved)));
    }

    [Fact]
    public async Task Without_a_history_each_command_says_what_to_do()
    {
        foreach (var command in (string[][])[["trend", "lamps"], ["history"]])
        {
            var (exitCode, _, error) = await _project.AskAsync([.. command, "--history", Path.Combine(_project.Folder, "none", "a")]);
            Assert.NotEqual(ExitCode.Fine, exitCode);
            Assert.Contains("name a file in a folder that is there", error, StringComparison.Ordinal);
        }
    }

    // One run, and others made of it: what differs from run to run is a factor of each worker and, if asked for, the time of "quick".
    private async Task KeepAsync(int runs, Func<int, double> nanoseconds)
    {
        await _project.RunAsync("--out", _project.Saved);
        var measured = RunFile.Read(_project.Saved);
        var folder = Directory.CreateDirectory(Path.Combine(_project.Folder, "made")).FullName;
        var random = new Random(2);
        for (var run = 0; run < runs; run++)
        {
            double[] factors = [1, nanoseconds(run) / nanoseconds(0)];
            var made = measured with
            {
                Started = measured.Started.AddDays(run),
                Studies = [.. measured.Studies.Select(study => study with
                {
                    Sittings = [.. study.Sittings.Select(sitting => Slowed(sitting, factors, 1 + (0.002 * (random.NextDouble() - 0.5))))],
                })],
            };
            RunFile.Write(made, Path.Combine(folder, FormattableString.Invariant($"{run:00}.json")));
        }

        Assert.Equal($"imported {runs} of {runs} runs\n", Line(await AskAsync("history", "import", folder)));
    }

    private static SittingRecord Slowed(SittingRecord sitting, double[] factors, double worker) => sitting with
    {
        Readings = [.. sitting.Readings.Select(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant } cell
            ? reading with { ElapsedNanoseconds = (long)(reading.ElapsedNanoseconds * factors[cell.Variant] * worker) }
            : reading)],
    };

    private Task<(int ExitCode, string Output, string Error)> AskAsync(params string[] arguments)
        => _project.AskAsync([.. arguments, "--history", Place]);

    private static string Line((int ExitCode, string Output, string Error) told)
    {
        Assert.True(told.ExitCode == ExitCode.Fine, told.Error);
        return told.Output.ReplaceLineEndings("\n");
    }

    private void Do(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={Place};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // The test's own words.
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }
}
