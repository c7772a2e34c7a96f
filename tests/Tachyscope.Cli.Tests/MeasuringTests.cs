using System.Text.Json.Nodes;
using Tachyscope.Lab.Tests;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>
/// The tool on real projects and real workers, as few times as will do. What is looked at hangs on no noise: what is told, kept and
/// returned.
/// </summary>
public sealed class MeasuringTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope test ü").FullName;

    private string Saved => Path.Combine(_folder, "run.json");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task Variants_that_fail_are_shown_with_their_reasons_and_the_others_are_measured()
    {
        (string Variant, string Reason)[] failing =
        [
            ("throws later", "threw InvalidOperationException: the oil is used up"),
            ("dies later", "ended its process with exit code 8"),
            ("hangs later", "gave no answer within 3 s; give it longer with --patience"),
            ("leaves a stage open", "left the stage \"lighting\" open; close it"),
            ("overflows", "overflowed the stack and ended its process with exit code 134"),
            ("is wrong in native code",
                "reached memory that is not its own (a segmentation fault) and ended its process with exit code 139"),
            ("exhausts memory", "threw OutOfMemoryException"),
        ];
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "misfits", "--patience", "3s", "--out", Saved],
            "DOTNET_GCHeapHardLimit=0x10000000");

        Assert.True(exitCode == ExitCode.Failed, error);
        var study = Assert.Single(RunFile.Read(Saved).Studies);
        var reasons = study.Failures.ToDictionary(failure => study.Study.Variants[failure.Variant].Name, failure => failure.Reason);
        Assert.Equal(failing.Select(expected => expected.Variant)
            .Order(StringComparer.Ordinal), reasons.Keys.Order(StringComparer.Ordinal));
        Assert.All(failing, expected =>
        {
            Assert.Contains(expected.Reason, reasons[expected.Variant], StringComparison.Ordinal);
            Assert.Contains($"✗ {expected.Variant}: {expected.Reason}", output, StringComparison.Ordinal);
        });
        Assert.NotEmpty(study.Sittings);
        Assert.Contains("caveat left-processes: processes that an operation had started went on when its worker ended, and were ended: "
            + "sleep", output, StringComparison.Ordinal);
        Assert.DoesNotContain('\u001b', output);
    }

    // Which caches there are hangs on the machine, and whether any is told of.
    [Fact]
    public async Task Speeds_are_sought_calls_stay_calls_and_caches_are_emptied_when_asked()
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "run", ToolProcess.Mishaps, "--only", "later", "--speeds", "--called", "--cold", "--within", "9s", "--out", Saved);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        var run = RunFile.Read(Saved);
        Assert.True(run.Plan is { AreSpeedsSought: true, IsCalledRead: true, IsColdRead: true });
        var sitting = run.Studies[0].Sittings[0];
        Assert.Contains(sitting.Cells, cell => cell is { Kind: CellKind.Variant, Loop.IsCalled: true });
        Assert.Equal(
            Lab.Machines.Surveyor.CacheSizes(), sitting.Cells.Select(cell => cell.Loop.EmptiedBytes).OfType<long>().Distinct().Order());
        Assert.All(
            sitting.WarmUps.Where(warm => sitting.Cells[warm.Cell].Kind == CellKind.Variant && warm.Code is not null),
            warm => Assert.InRange(warm.Code!.LoopBytes, 1, 100_000));
        Assert.Contains("kept a call", output, StringComparison.Ordinal);
    }

    // How many there is time for hangs on the machine.
    [Fact]
    public async Task The_code_of_a_study_is_read_in_copies()
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "run", ToolProcess.Mishaps, "--only", "later", "--copies", "4", "--within", "6s", "--out", Saved);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.All(RunFile.Read(Saved).Studies[0].Sittings, sitting =>
        {
            Assert.InRange(sitting.Copies, 1, 4);
            Assert.Equal(sitting.Copies < 4, sitting.CopiesProblem is not null);
            Assert.All(sitting.Readings, reading => Assert.InRange(sitting.Cells[reading.Cell].Copy, 0, sitting.Copies - 1));
            Assert.Equal(sitting.Rounds > 0, sitting.Gauges.Count > 0);
            Assert.All(sitting.Gauges, turn => Assert.True(turn.CallGauge > 0));
            // Between the first call and the next the compiler had its time, and no more came than it counts.
            var ways = sitting.WarmUps.Where(warm => sitting.Cells[warm.Cell].Kind is CellKind.Variant or CellKind.Twin)
                .Select(warm => warm.Curve).ToList();
            Assert.NotEmpty(ways);
            Assert.All(ways, way =>
            {
                Assert.InRange(way[1].Milliseconds - way[0].Milliseconds, 12, 60_000);
                Assert.InRange(way[1].Calls, 2, 31);
            });
        });
    }

    [Fact]
    public async Task Code_that_ends_the_process_when_it_is_run_twice_is_read_in_one_copy_and_that_is_said()
    {
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "later", "--copies", "4", "--within", "6s", "--out", Saved, "--show",
                "ground"], "MISHAPS=once");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        // Where the machine is busy, making the inputs may take so long that no copy is tried.
        Assert.Matches("its code was read in one copy a sitting and no more: (in a copy of its code the worker ended its process with "
            + "exit code 3|making its inputs for each takes )", output);
        Assert.All(RunFile.Read(Saved).Studies[0].Sittings, sitting => Assert.Equal(1, sitting.Copies));
    }

    [Fact]
    public async Task What_an_operation_does_beside_its_job_is_noticed()
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "run", ToolProcess.Mishaps, "--only", "doubtful", "--only", "later", "--only", "odd", "--within", "3s", "--out", Saved,
                "--show", "caveats");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        (string Caveat, string Subject)[] expected =
            [("input-changed", "sorts, "), ("ignores-input", "is idle, 512 lamps"), ("answers-late", "when asked, a lamp"),
                ("reads-or-writes", "reads, "), ("other-threads", "is helped, ")];
        Assert.All(expected, pair => Assert.Matches($"caveat {pair.Caveat} – [^\n]*{pair.Subject}", output));
        var slow = RunFile.Read(Saved).Studies.Single(study => study.Study.Name == "odd");
        var later = RunFile.Read(Saved).Studies.Single(study => study.Study.Name == "later");
        Assert.All(later.Sittings, sitting => Assert.All(
            sitting.Readings.Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 2 }), reading
                => Assert.True(reading.AllocatedBytes > 1_000 * reading.Calls)));
        Assert.All(slow.Sittings, sitting => Assert.All(
            sitting.Readings.Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 }), reading
                => Assert.Equal(1, reading.Calls)));
    }

    [Fact]
    public async Task A_project_started_by_hand_hands_over_to_the_tool()
    {
        var (exitCode, output,
            error) = await ToolProcess.RunAsync([ToolProcess.Demo, "--only", "smooth*", "--within", "1s", "--insist", "--out", Saved]);

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("smooth tide levels · every window anew", output, StringComparison.Ordinal);
        Assert.Equal(["smooth*"], RunFile.Read(Saved).Plan.Only);
    }

    [Fact]
    public async Task Every_shape_is_measured()
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "run", ToolProcess.Mishaps, "--only", "shapes", "--overlapped", "--collections", "held", "--show", "all",
            "--within", "3s", "--insist", "--out", Saved);

        Assert.True(exitCode == ExitCode.Fine, error);
        string[] expected =
        [
            "shapes · mix of 75 % short, 25 % long", "kept: prepare", "in steps, step 4", "side by side", "items/s", "by its kinds",
                "kept in memory", "exceptions/call",
            "loop may leave", "in stages: sum", "a mark costs",
        ];
        Assert.All(expected, text => Assert.Contains(text, output, StringComparison.Ordinal));
        Assert.Empty(SchemaCheck.FromFile(Path.Combine(AppContext.BaseDirectory, "run.schema.json"))
            .Errors(JsonNode.Parse(await File.ReadAllTextAsync(Saved))));
        var study = RunFile.Read(Saved).Studies[0];
        Assert.Contains(study.Diagnoses, diagnosis => diagnosis.RetainedBytes is > 3_900 and < 4_300);
        Assert.Contains(study.Sittings, sitting => sitting.StageReadings.Count > 0);
    }

    [Fact]
    public async Task A_factory_that_ends_its_process_is_named()
    {
        var (exitCode, _, error) = await ToolHere.RunAsync("run", ToolProcess.Mishaps, "--only", "factory exits");

        Assert.Equal(ExitCode.CouldNotRun, exitCode);
        Assert.Contains("study \"factory exits\": the factory of input \"a lost lamp\" ended its process with exit code 9.", error,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task Mistakes_in_studies_come_out_together()
    {
        var (exitCode, _, error) = await ToolProcess.RunAsync([ToolProcess.Tool, "run", ToolProcess.Mishaps], "MISHAPS=mistakes");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        string[] expected =
        [
            "study \"bad dial\": the dial \"oil\" of \"turned\" has the setting 0; settings are 1 or more.", "has the setting -4",
            "study \"other input\": the factory of input \"a lamp\" made something else the second time",
                "study \"same names\": two variants are named \"twice\"", "study \"empty inputs\": it has no inputs",
            "study \"bad factory\": the factory of input \"a lamp\" threw InvalidOperationException: out of oil",
            "the name of a variant holds half a character (a lone surrogate), which cannot be written or shown; leave it out of \"torn\".",
            "the name of a study holds the character U+001B, which cannot be written or shown; leave it out of \"[2Jcleared\".",
        ];
        Assert.All(expected, text => Assert.Contains(text, error, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Places_that_cannot_be_written_are_told_with_the_variable_that_is_the_way_out()
    {
        var cache = await ToolProcess.RunAsync([ToolProcess.Tool, "run", ToolProcess.Mishaps], "TACHYSCOPE_CACHE=/proc/fog");
        var temporary = await ToolProcess.RunAsync([ToolProcess.Tool, "run", ToolProcess.Mishaps], "TMPDIR=/no/such/folder");

        Assert.Equal((ExitCode.CouldNotRun, ExitCode.CouldNotRun), (cache.ExitCode, temporary.ExitCode));
        Assert.Matches(
            @"^tachyscope: builds cannot be kept in /proc/fog \(.*\); name a folder that can be written with TACHYSCOPE_CACHE\.\n$",
            cache.Error);
        Assert.Equal("tachyscope: the folder for temporary files, /no/such/folder/, does not exist; make it, or set TMPDIR to one that "
            + "does.\n", temporary.Error);
    }
}
