using System.Globalization;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>
/// Whatever a worker does, the tool ends with a sentence, an exit code that means what it says, and what was measured of the rest.
/// </summary>
public sealed class FaultTests
{
    private const int Kill = 9;
    private const int Alarm = 14;
    private const int Terminate = 15;
    private const int Stop = 19;

    private static ScriptedFault Of(string at, FaultKind kind, int number = 0)
        => new() { At = at, Kind = kind, Number = number, Row = 1, Place = WorkerPlace.Cell };

    public static TheoryData<ScriptedFault, string, string> OfOneCell => new()
    {
        { Of("check", FaultKind.Exit, 7) with { Place = WorkerPlace.Row, Index = 1 }, "died", "ended its process with exit code 7" },
        { Of("check", FaultKind.Hang) with { Place = WorkerPlace.Row, Index = 1 }, "hung",
            "gave no answer within 6 s; give it longer with --patience" },
        { Of("warm", FaultKind.Hang), "hung", "gave no answer within 6 s; give it longer with --patience" },
        { Of("warm", FaultKind.Spin), "hung", "gave no answer within 6 s; give it longer with --patience" },
        { Of("read", FaultKind.Hang), "hung", "gave no answer within 6 s; give it longer with --patience" },
        { Of("warm", FaultKind.Signal, Stop), "hung", "gave no answer within 6 s; give it longer with --patience" },
        { Of("warm", FaultKind.Exit, 8), "died", "ended its process with exit code 8" },
        { Of("read", FaultKind.Exit, 8), "died", "ended its process with exit code 8" },
        { Of("warm", FaultKind.Signal, Alarm), "died", "ended its process with exit code 142" },
        { Of("warm", FaultKind.Signal, Kill), "died",
            "was killed from outside (SIGKILL), by the system for want of memory or by somebody, and ended its process with exit code "
                + "137" },
        { Of("open", FaultKind.Exit, 5), "died", "ended its process with exit code 5" },
    };

    [Theory]
    [MemberData(nameof(OfOneCell))]
    public async Task A_worker_that_is_lost_costs_the_cell_it_was_at_and_no_other(ScriptedFault fault, string word, string reason)
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound(fault));

        var (exitCode, output, error) = await project.RunAsync("--patience", "6s");

        Assert.True(exitCode == ExitCode.Failed, output + error);
        Assert.Matches($@"\nlamps · quick · a lamp: ✗ {word}", output);
        Assert.Contains($"✗ quick: {reason}", output, StringComparison.Ordinal);
        Assert.Matches(@"(?m)^lamps · steady · baseline · a lamp: \S+ ns ± \d", output);
        Assert.Matches(@" · \d+ sittings? a study · ", output);
        Assert.DoesNotContain("worker-replaced", output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(Kill, "was killed from outside (SIGKILL)")]
    [InlineData(Terminate, "was asked to end from outside (SIGTERM)")]
    public async Task A_worker_that_was_ended_from_outside_is_replaced_and_told(int signal, string evidence)
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound(Of("read", FaultKind.Signal, signal) with { IsOnce = true }));

        var (exitCode, output, error) = await project.RunAsync();

        Assert.True(exitCode == ExitCode.Fine, output + error);
        Assert.Contains($"caveat worker-replaced: a worker was lost and another took its place: it {evidence}", output,
            StringComparison.Ordinal);
        Assert.Contains("while quick was called on a lamp", output, StringComparison.Ordinal);
        Assert.Matches(@"quick · .*▲ faster", output);
    }

    [Fact]
    public async Task Processes_that_outlive_their_worker_are_ended_and_told()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "warm", Kind = FaultKind.LeaveChild }));

        var (exitCode, output, error) = await project.RunAsync();

        Assert.True(exitCode == ExitCode.Fine, output + error);
        Assert.Contains("caveat left-processes: processes that an operation had started went on when its worker ended, and were ended: ",
            output, StringComparison.Ordinal);
    }

    public static TheoryData<ScriptedFault, string> OfTheProject => new()
    {
        { new() { At = "start", Kind = FaultKind.Hang },
            "could not be run as a worker: it gave no answer within 6 s; give it longer with --patience; its Main must end with: return "
                + "await Studies.RunAsync(args, …)." },
        { new() { At = "start", Kind = FaultKind.Exit, Number = 4 },
            "could not be run as a worker: it ended its process with exit code 4; its Main must end with" },
        { new() { At = "start", Kind = FaultKind.Close }, "could not be run as a worker: it gave no answer within 6 s" },
        { new() { At = "inspect", Kind = FaultKind.Hang, Place = WorkerPlace.Input },
            "study \"lamps\": the factory of input \"a lamp\" gave no answer within 6 s; give it longer with --patience." },
        { new() { At = "inspect", Kind = FaultKind.Exit, Number = 9, Place = WorkerPlace.Input },
            "study \"lamps\": the factory of input \"a lamp\" ended its process with exit code 9." },
    };

    [Theory]
    [MemberData(nameof(OfTheProject))]
    public async Task What_keeps_a_project_from_being_measured_is_told_by_its_name(ScriptedFault fault, string reason)
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound(fault));

        var (exitCode, output, error) = await project.RunAsync("--patience", "6s");

        Assert.Equal(ExitCode.CouldNotRun, exitCode);
        Assert.Contains(reason, error, StringComparison.Ordinal);
        Assert.Empty(output);
    }

    [Fact]
    public async Task A_factory_that_hangs_later_fails_every_variant_on_its_input()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "check", Kind = FaultKind.Hang,
            Place = WorkerPlace.Input }));

        var (exitCode, output, _) = await project.RunAsync("--patience", "6s");

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Contains("✗ steady: the factory of input \"a lamp\" gave no answer within 6 s", output, StringComparison.Ordinal);
        Assert.Contains("✗ quick: the factory of input \"a lamp\" gave no answer within 6 s", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_call_that_stands_still_when_the_time_is_over_ends_the_run_whatever_the_patience()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound(Of("warm", FaultKind.Hang)) with
        {
            Studies = [ScriptedStudies.Of("lamps", "steady", "quick"), ScriptedStudies.Of("tides", "steady", "quick")],
        });

        var (exitCode, output, _) = await project.RunAsync("--within", "2s", "--patience", "10m");

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Matches(@"✗ quick: had given no answer for \d+(\.\d)? s when the time allowed was over; raise --within", output);
        Assert.Contains("note: the time allowed was over while a call was waited for", output, StringComparison.Ordinal);
        Assert.Contains("the time allowed was over before \"tides\", which is not measured", output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(FaultKind.FloodError)]
    [InlineData(FaultKind.FloodOutput)]
    public async Task A_line_without_end_is_cut_and_the_run_goes_on(FaultKind kind)
    {
        using var sound = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "warm", Kind = kind, Number = 4 }));
        using var lost = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "check", Kind = kind, Number = 4 },
            Of("check", FaultKind.Exit, 3)));

        var (exitCode, output, error) = await sound.RunAsync();
        var (failed, told, _) = await lost.RunAsync();

        Assert.True(exitCode == ExitCode.Fine, output + error);
        Assert.Equal(ExitCode.Failed, failed);
        Assert.InRange(told.Split('\n').Max(line => line.Length), 100, 2_200);
    }

    [Fact]
    public async Task Nothing_of_a_study_or_a_file_is_obeyed_by_the_terminal()
    {
        const string Spell = "red \u001b[31m, title \u001b]0;fog\u0007, cleared \u001b[2J, turned \u202e round, \u009b2J, new\nline\r";
        var study = ScriptedStudies.Of("lamps", "steady", Spell) with { Inputs = [new() { Label = $"a lamp {Spell}" }] };
        using var project = new ScriptedProject(new Script
        {
            Studies = [study],
            Rows = [new(), new() { Disagreement = $"answers {Spell}" }],
            Faults = [new() { At = "check", Kind = FaultKind.Say, Text = Spell },
                new() { At = "check", Kind = FaultKind.Write, Text = Spell }],
        });
        using var mistaken = new ScriptedProject(ScriptedStudies.Sound() with { Mistakes = [Spell] });
        var painted = new StringWriter();

        var (_, plain, error) = await project.RunAsync("--out", project.Saved);
        var (_, _, complaint) = await mistaken.RunAsync();
        var raw = (await File.ReadAllTextAsync(project.Saved)).Replace("lamps", "lamps\\u001b[2J\\u202e\\n", StringComparison.Ordinal);
        await File.WriteAllTextAsync(project.Saved, raw);
        var (_, reported, _) = await project.AskAsync(["report", project.Saved]);
        await Tool.InvokeAsync(["report", project.Saved],
            new Surroundings { Output = painted, Error = painted, Cache = project.Folder, Terminal = () => (125, 42) });

        Assert.All((string[])[plain, error, complaint, reported],
            text => Assert.DoesNotContain(text.EnumerateRunes(), rune => !ProtocolText.IsVisible(rune)
                && rune.Value is not ('\n' or '\r')));
        Assert.All((string[])["\u001b]0;", "\u001b[2J", "\u202e", "\u0007", "\u009b"],
            spell => Assert.DoesNotContain(spell, painted.ToString(), StringComparison.Ordinal));
        Assert.Contains("title ␛]0;fog␇, cleared ␛[2J, turned ‹U+202E› round, ‹U+009B›2J, new␊line", plain, StringComparison.Ordinal);
        Assert.Contains("lamps␛[2J‹U+202E›␊", reported, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(Terminate)]
    public async Task A_signal_ends_the_tool_with_what_was_measured_and_its_workers_with_it(int signal)
    {
        // The second set of sittings stands still before it is read.
        using var project = new ScriptedProject(ScriptedStudies.Sound(new ScriptedFault { At = "open", Kind = FaultKind.Hang, After = 2 }));

        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", project.Assembly, "--patience", "60s", "--out", project.Saved],
            signalWhen: () => project.Came(fault: 0) > 2,
            signal: signal);

        Assert.True(exitCode == ExitCode.Interrupted, output + error);
        Assert.Contains("interrupted; what was measured until then is shown above and saved in", error, StringComparison.Ordinal);
        var run = Storing.RunFile.Read(project.Saved);
        Assert.Equal((RunState.Interrupted, 2), (run.State, run.Studies[0].Sittings.Count));
    }

    [Fact]
    public async Task When_the_tool_is_killed_its_workers_go_too_whatever_their_operation_is_at()
    {
        IReadOnlyList<int> workers = [];

        await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "spins", "--patience", "5m"],
            watch: tool => workers = ToolProcess.Children(tool) is { Count: > 0 } seen ? seen : workers,
            // Two are warmed at once, and spin from their two thousandth call on.
            signalWhen: () => workers.Any(worker => ProcessorSeconds(worker) > 1.5),
            signal: Kill);

        await ScriptedToolTests.Until(() => !workers.Any(worker => Directory.Exists($"/proc/{worker}") && ProcessorSeconds(worker) > 0));
    }

    private static double ProcessorSeconds(int process)
    {
        try
        {
            var text = File.ReadAllText($"/proc/{process}/stat");
            var fields = text[(text.LastIndexOf(')') + 2)..].Split(' ');
            // A zombie has ended and is only not yet counted by its new parent.
            return fields[0] == "Z" ? 0 : double.Parse(fields[11], CultureInfo.InvariantCulture) / 100;
        }
        catch (IOException)
        {
            return 0;
        }
    }
}
