using System.Text.Json.Nodes;
using Tachyscope.Lab.Tests;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool from the command line to the exit code on scripted workers: the same figures every time, on every machine.</summary>
public sealed class ScriptedToolTests
{
    [Fact]
    public async Task A_run_shows_a_table_names_its_ground_and_saves_its_readings()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound());

        var (exitCode, output, error) = await project.RunAsync("--seed", "7", "--out", project.Saved);

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("Take quick, the fastest: it is 2.00 times as fast as steady.", output, StringComparison.Ordinal);
        Assert.Matches(@"\nlamps · steady · baseline · a lamp: \d+\.\d+ ns ± \S+, 24 B", output);
        Assert.Matches(@"\nlamps · quick · take · a lamp: ▲ faster ÷ (2\.00|1\.99)\d+ ± \S+, (49|50)\.\d+ ns, 0 B", output);
        Assert.Matches(@"\.NET 10\.0\.0 x64 · .* · \d+ sittings? a study · .* · seed 7", output);
        Assert.DoesNotContain("caveat ", output.Replace("what a caveat means: tachyscope caveat NAME", "", StringComparison.Ordinal),
            StringComparison.Ordinal);
        var run = RunFile.Read(project.Saved);
        Assert.Equal((RunState.Complete, 7), (run.State, run.Plan.Seed));
        Assert.InRange(run.Studies[0].Sittings.Count, 2, 6);
        Assert.Empty(SchemaCheck.FromFile(Path.Combine(AppContext.BaseDirectory, "run.schema.json"))
            .Errors(JsonNode.Parse(await File.ReadAllTextAsync(project.Saved))));
    }

    [Fact]
    public async Task It_says_the_same_every_time()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound());

        var first = await project.RunAsync("--show", "all", "--out", project.Saved);
        var saved = await File.ReadAllTextAsync(project.Saved);

        Assert.Equal(first, await project.RunAsync("--show", "all", "--out", project.Saved));
        Assert.Equal(saved, await File.ReadAllTextAsync(project.Saved));
    }

    [Fact]
    public async Task A_variant_that_disagrees_is_not_timed_and_the_exit_code_is_1()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound() with { Rows = [new(),
            new() { Disagreement = "answers 20 where \"steady\" answers 15" }] });

        var (exitCode, output, _) = await project.RunAsync();

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Matches(@"quick · a lamp: ✗ disagrees", output);
        Assert.Contains("✗ quick: answers 20 where \"steady\" answers 15", output, StringComparison.Ordinal);
        Assert.Matches(@"steady · baseline · a lamp: \S+ ns ± ", output);
    }

    [Fact]
    public async Task What_makes_code_settle_at_several_speeds_is_tried_and_told()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound() with
        {
            Rows = [new(), new() { Nanoseconds = [60], SecondSpeed = 1.5 }],
        });

        var (exitCode, output, error) = await project.RunAsync("--explain", "speeds");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Matches(@"lamps · why several speeds ▲ quick · a lamp with TieredPGO=0: supported – 60\.\d ns in all 14; "
            + @"as it is 60\.\d ns in \d+ of 14 and 90\.\d ns in \d+\n", output);
        Assert.Matches(@"lamps · why several speeds \S quick · a lamp with TieredCompilation=0: not supported – "
            + @"60\.\d ns in \d+ of 14 and 90\.\d ns in \d+; as it is ", output);
        Assert.DoesNotContain("steady · a lamp with", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Who_interrupts_the_search_for_reasons_keeps_what_was_measured()
    {
        using var project = new ScriptedProject(
            ScriptedStudies.Sound(new ScriptedFault { At = "effects", Kind = FaultKind.Hang, IsOnce = true }) with
            {
                Rows = [new(), new() { Nanoseconds = [60], SecondSpeed = 1.5 }],
            });
        using var interruption = new CancellationTokenSource();

        var running = project.RunAsync(interruption.Token, "--explain", "speeds", "--out", project.Saved);
        for (var waited = 0; project.Came(fault: 0) == 0 && waited < 600 && !running.IsCompleted; waited++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        await interruption.CancelAsync();
        var (exitCode, output, error) = await running;

        Assert.Equal(ExitCode.Interrupted, exitCode);
        Assert.Contains("interrupted while it was looked for reasons; what was measured stands above.", error, StringComparison.Ordinal);
        Assert.Contains("caveat several-speeds: quick", output, StringComparison.Ordinal);
        Assert.Equal(RunState.Complete, RunFile.Read(project.Saved).State);
    }

    [Fact]
    public async Task Where_there_is_nothing_to_be_tried_or_too_little_was_read_that_is_told()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound());

        var (_, one, _) = await project.RunAsync("--explain", "speeds");
        var (_, few, _) = await project.RunAsync("--speeds", "--within", "1s");

        Assert.Contains("every row that was looked at has one speed, so that nothing is to be tried", one, StringComparison.Ordinal);
        Assert.Matches(@"note: .*several speeds are told from 6 sittings on, and there (was one|were [2-5]); give it longer", few);
    }

    [Fact]
    public async Task Apart_and_repeated_comparisons_are_shown_beside_each_other()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound());

        var (exitCode, output, error) = await project.RunAsync("--apart", "--repeat", "2", "--show", "all", "--out", project.Saved);

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.All(
            (string[])["in a process of its own", "repeats", "they differ by", "together, ", " apart", "twin of the baseline", "metronome"],
            text => Assert.Contains(text, output, StringComparison.Ordinal));
        var sittings = RunFile.Read(project.Saved).Studies[0].Sittings;
        Assert.Equal([1, 2], sittings.Select(sitting => sitting.Repeat).Distinct().Order());
        var apart = sittings.Where(sitting => sitting.IsApart).ToList();
        Assert.NotEmpty(apart);
        Assert.All(apart, sitting => Assert.Equal(3, sitting.Cells.Select(cell => cell.Worker).Distinct().Count()));
        Assert.All(sittings.Where(sitting => !sitting.IsApart), sitting => Assert.All(sitting.Cells, cell => Assert.Equal(0, cell.Worker)));
    }

    [Fact]
    public async Task What_was_found_of_single_cells_is_shown_when_it_was_asked_for()
    {
        var found = new DiagnoseReplyOf(FirstCall: 123_000, Type: "Lantern[]", Tier: CodeTier.Optimised, Milliseconds: 190).Reply;
        using var project = new ScriptedProject(ScriptedStudies.Sound() with { Diagnosis = found });

        var (_, plain, _) = await project.RunAsync("--overlapped");
        var (exitCode, output, error) = await project.RunAsync("--explain", "warmup", "--explain", "allocation");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.All((string[])["cold call", "123 µs", "tier 1 after", "types allocated", "Lantern[]"],
            text => Assert.Contains(text, output, StringComparison.Ordinal));
        Assert.All((string[])["cold call", "Lantern[]"], text => Assert.DoesNotContain(text, plain, StringComparison.Ordinal));
        Assert.Contains("side by side", plain, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Counters_of_the_processor_are_shown_where_they_are_read_and_their_absence_is_told_once()
    {
        using var read = new ScriptedProject(ScriptedStudies.Sound() with
        {
            Diagnosis = new() { Counters = new() { InstructionsPerCall = 420, CyclesPerCall = 200, BranchesMissedPerCall = 1.5 } },
        });
        using var absent = new ScriptedProject(ScriptedStudies.Sound() with
        {
            Diagnosis = new() { Counters = new() { Absence = "the lighthouse is dark" } },
        });

        var (exitCode, output, error) = await read.RunAsync("--explain", "counters", "--out", read.Saved);
        var (absentCode, without, _) = await absent.RunAsync("--explain", "counters");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.All((string[])["instructions/call", "420", "instructions/cycle", "2.1", "branches missed/call", "1.5"],
            text => Assert.Contains(text, output, StringComparison.Ordinal));
        Assert.DoesNotContain("cache misses", output, StringComparison.Ordinal);
        Assert.All(RunFile.Read(read.Saved).Studies[0].Diagnoses, found => Assert.Equal(200, found.Counters!.CyclesPerCall));
        Assert.Equal(ExitCode.Fine, absentCode);
        Assert.Single(without.Split('\n'), line => line.Contains("the lighthouse is dark", StringComparison.Ordinal));
        Assert.DoesNotContain("instructions/call", without, StringComparison.Ordinal);
    }

    [Fact]
    public async Task On_one_processor_sittings_are_warmed_one_after_the_other_and_that_is_told()
    {
        var script = ScriptedStudies.Sound();
        using var project = new ScriptedProject(script with { Environment = script.Environment with { Processors = [0] } });

        var (exitCode, output, error) = await project.RunAsync("--out", project.Saved);

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("caveat single-processor", output, StringComparison.Ordinal);
        var sittings = RunFile.Read(project.Saved).Studies[0].Sittings;
        Assert.Equal(6, sittings.Count);
        Assert.All(sittings.Zip(sittings.Skip(1)), pair => Assert.True(pair.Second.BeganSeconds >= pair.First.EndedSeconds));
    }

    [Fact]
    public async Task A_time_too_short_for_two_sittings_gets_one_and_is_told_what_more_would_take()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound()) { ClockStepMilliseconds = 400 };

        var (exitCode, output, error) = await project.RunAsync("--within", "500ms");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Matches(@"note: the time allowed for this study, \d\.\d s, is .*one sitting.*; an interval needs two and a tight one 5: give it \d+ s with --within", output);
        Assert.Matches(@"steady · baseline · a lamp: \S+ ns ± \?", output);
    }

    [Fact]
    public async Task A_drift_is_told_of_the_variant_that_has_it()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound() with { Rows = [new(), new() { Nanoseconds = [50], Drift = 0.8 }] });

        var (_, output, _) = await project.RunAsync();

        Assert.Contains("lamps · caveat drifts: quick", output, StringComparison.Ordinal);
    }

    public static TheoryData<Script, int, string> Refused => new()
    {
        { ScriptedStudies.Sound() with { Protocol = 99 }, ExitCode.WrongUse,
            "the tool is older: update it (dotnet tool update Tachyscope.Tool)" },
        { ScriptedStudies.Sound() with { Protocol = 1 }, ExitCode.WrongUse, "the project's Tachyscope package is older: update it" },
        { ScriptedStudies.Sound() with { Mistakes = ["two studies are named \"lamps\""] }, ExitCode.WrongUse,
            "two studies are named \"lamps\"" },
        { ScriptedStudies.Sound() with { Environment = ScriptedStudies.Sound().Environment with { IsProfilerAttached = true } },
            ExitCode.WrongUse, "a profiler is attached to the worker (CORECLR_ENABLE_PROFILING is 1) and slows it; unset that, or add "
                + "--insist" },
        { ScriptedStudies.Sound() with { Environment = ScriptedStudies.Sound().Environment with { IsOptimized = false,
            UnoptimizedAssemblies = ["Harbour"] } }, ExitCode.WrongUse, "Harbour was built without optimisation (Debug)" },
        { ScriptedStudies.Sound(new ScriptedFault { At = "studies", Kind = FaultKind.Refuse, Text = "out of oil" }), ExitCode.CouldNotRun,
            "out of oil" },
    };

    [Theory]
    [MemberData(nameof(Refused))]
    public async Task What_spoils_a_run_is_refused_before_anything_is_measured(Script script, int expected, string reason)
    {
        using var project = new ScriptedProject(script);

        var (exitCode, output, error) = await project.RunAsync();

        Assert.Equal(expected, exitCode);
        Assert.Contains(reason, error, StringComparison.Ordinal);
        Assert.Empty(output);
    }

    [Fact]
    public async Task Who_insists_gets_the_figures_and_the_caveat()
    {
        var script = ScriptedStudies.Sound();
        using var project = new ScriptedProject(script with { Environment = script.Environment with { IsOptimized = false,
            UnoptimizedAssemblies = ["Harbour"], IsProfilerAttached = true } });

        var (exitCode, output, error) = await project.RunAsync("--insist");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("caveat unoptimised-build", output, StringComparison.Ordinal);
        Assert.Contains("caveat profiler-attached", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_pattern_that_matches_nothing_gets_the_names_that_exist()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound() with { Studies = [ScriptedStudies.Of("lamps", "a", "b"),
            ScriptedStudies.Of("tides", "a", "b")] });

        var (exitCode, _, error) = await project.RunAsync("--only", "lighthouse");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("no study matches --only \"lighthouse\"; the studies are \"lamps\", \"tides\".", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Places_that_cannot_be_used_are_told_before_anything_is_measured()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound());
        var link = Path.Combine(project.Folder, "link.json");
        File.CreateSymbolicLink(link, project.Saved);
        var left = $"{project.Saved}.{int.MaxValue}.part";
        await File.WriteAllTextAsync(left, "");

        var (nowhere, _, lost) = await project.RunAsync("--out", "/no/such/folder/run.json");
        var (closed, _, denied) = await project.RunAsync("--out", Path.Combine(project.Folder, "Tachyscope.dll", "run.json"));
        var (followed, _, error) = await project.RunAsync("--out", link);

        Assert.Equal((ExitCode.WrongUse, ExitCode.WrongUse), (nowhere, closed));
        Assert.Contains("there is no folder /no/such/folder; make it first or name another.", lost, StringComparison.Ordinal);
        Assert.Contains("make it first or name another.", denied, StringComparison.Ordinal);
        Assert.True(followed == ExitCode.Fine, error);
        Assert.Equal(project.Saved, new FileInfo(link).LinkTarget);
        Assert.Equal(RunState.Complete, RunFile.Read(project.Saved).State);
        Assert.False(File.Exists(left));
    }

    [Fact]
    public async Task A_file_that_cannot_be_written_any_more_is_put_elsewhere()
    {
        // The second set of sittings stands still before it is read.
        using var project = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "open", Kind = FaultKind.Hang, After = 2,
            Place = WorkerPlace.Cell, Row = 1 }));
        var folder = Directory.CreateDirectory(Path.Combine(project.Folder, "gone")).FullName;
        var saved = Path.Combine(folder, "run.json");

        var running = project.RunAsync("--out", saved, "--patience", "3s");
        await Until(() => project.Came(fault: 0) > 2);
        Directory.Delete(folder, recursive: true);
        var (exitCode, output, error) = await running;

        Assert.Equal(ExitCode.CouldNotRun, exitCode);
        Assert.Contains("lamps · steady · baseline", output, StringComparison.Ordinal);
        var other = System.Text.RegularExpressions.Regex.Match(error,
            "could not be saved to .*; it is in (.*\\.json) instead\\.").Groups[1].Value;
        Assert.NotEmpty(RunFile.Read(other).Studies[0].Sittings);
        File.Delete(other);
    }

    [Fact]
    public async Task An_output_that_is_full_or_closed_costs_nothing_that_was_measured()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound());
        var error = new StringWriter();
        var around = new Surroundings { Output = new SteadyWriter(new FullWriter()), Error = new SteadyWriter(error),
            Cache = Path.Combine(project.Folder, "cache") };

        var exitCode = await Tool.InvokeAsync(["run", project.Assembly, "--out", project.Saved], around);
        var silent = await Tool.InvokeAsync(["run", project.Assembly], around with { Error = new SteadyWriter(new FullWriter()) });

        Assert.Equal((ExitCode.CouldNotRun, ExitCode.CouldNotRun), (exitCode, silent));
        Assert.Equal("tachyscope: not everything could be written to standard output: the lamp room is full" + Environment.NewLine,
            error.ToString());
        var run = RunFile.Read(project.Saved);
        Assert.Equal(RunState.Complete, run.State);
        Assert.InRange(run.Studies[0].Sittings.Count, 2, 6);
    }

    [Fact]
    public async Task An_interruption_keeps_what_was_measured_and_ends_with_130()
    {
        // The second set of sittings stands still before it is read.
        using var project = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "open", Kind = FaultKind.Hang, After = 2 }));
        using var interruption = new CancellationTokenSource();

        var running = project.RunAsync(interruption.Token, "--out", project.Saved, "--patience", "60s");
        await Until(() => project.Came(fault: 0) > 2);
        await interruption.CancelAsync();
        var (exitCode, output, error) = await running;

        Assert.Equal(ExitCode.Interrupted, exitCode);
        Assert.Contains("interrupted; what was measured until then is shown above and saved in", error, StringComparison.Ordinal);
        Assert.Contains("lamps · steady · baseline", output, StringComparison.Ordinal);
        Assert.Contains("cut-short", output, StringComparison.Ordinal);
        Assert.Equal(RunState.Interrupted, RunFile.Read(project.Saved).State);
    }

    internal static async Task Until(Func<bool> isSo)
    {
        for (var look = 0; look < 1_200 && !isSo(); look++)
        {
            await Task.Delay(50);
        }

        Assert.True(isSo(), "It did not come to that within a minute.");
    }

    private sealed class FullWriter : StringWriter
    {
        public override void Write(char value) => throw new IOException("the lamp room is full");

        public override void Write(char[] buffer, int index, int count) => throw new IOException("the lamp room is full");

        public override void Write(string? value) => throw new IOException("the lamp room is full");
    }

    private sealed record DiagnoseReplyOf(long FirstCall, string Type, CodeTier Tier, double Milliseconds)
    {
        public Protocol.DiagnoseReply Reply => new()
        {
            FirstCallNanoseconds = FirstCall,
            AllocatedTypes = [new AllocatedType { Type = Type, Samples = 10 }],
            CodeVersions = [new CodeVersion { Tier = Tier, Milliseconds = Milliseconds }],
        };
    }
}
