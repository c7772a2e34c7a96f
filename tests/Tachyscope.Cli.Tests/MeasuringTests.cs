using System.Text.Json.Nodes;
using Tachyscope.Lab.Storing;
using Tachyscope.Lab.Tests;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on real projects. Short times: what is looked at is what it says and keeps, not how fast anything is.</summary>
public sealed class MeasuringTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope test ü").FullName;

    private string Saved => Path.Combine(_folder, "run.json");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task A_run_shows_a_table_names_its_ground_and_saves_its_readings()
    {
        var (exitCode, output, error) = await MeasureAsync("sound", "--seed", "7");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("sound · a lamp", output, StringComparison.Ordinal);
        Assert.Matches(@"steady +(\S+ +)?\S+ ns ± \S+ .* 0 B  · baseline", output);
        Assert.Matches(@"\.NET \S+ x64 · .* · seed 7", output);
        Assert.DoesNotContain('\u001b', output);
        var run = RunFile.Read(Saved);
        Assert.Equal((RunState.Complete, 7), (run.State, run.Plan.Seed));
        Assert.True(run.Studies[0].Sittings.Count >= 2);
        Assert.NotEmpty(run.Studies[0].Sittings[0].Readings);
    }

    [Fact]
    public async Task A_project_started_by_hand_hands_over_to_the_tool()
    {
        var byHand = await ToolProcess.RunAsync([ToolProcess.Demo, "--only", "smooth*", "--within", "3s", "--insist", "--out", Saved]);

        Assert.True(byHand.ExitCode == ExitCode.Fine, byHand.Error);
        Assert.Contains("smooth tide levels · 240 levels", byHand.Output, StringComparison.Ordinal);
        Assert.Equal(["smooth*"], RunFile.Read(Saved).Plan.Only);
    }

    [Theory]
    [InlineData("disagrees", "answers 20 where \"steady\" answers 15")]
    [InlineData("throws", "threw InvalidOperationException: the lamp broke")]
    [InlineData("throws later", "threw InvalidOperationException: the oil is used up")]
    [InlineData("dies", "ended its process with exit code 7")]
    [InlineData("dies later", "ended its process with exit code 8")]
    [InlineData("leaves a stage open", "left the stage \"lighting\" open; close it")]
    [InlineData("overflows", "overflowed the stack and ended its process with exit code 134")]
    public async Task A_variant_that_fails_is_shown_the_others_are_measured_and_the_exit_code_is_1(string study, string reason)
    {
        var (exitCode, output, error) = await MeasureAsync(study);

        Assert.True(exitCode == ExitCode.Failed, error);
        Assert.Matches(@"steady +(\S+ +)?\S+ ns ± ", output);
        Assert.Matches("unsteady +not timed", output);
        Assert.Contains(reason, output, StringComparison.Ordinal);
        Assert.Equal(study == "dies", output.Contains("    the tower fell", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_time_too_short_for_two_sittings_gets_one_and_is_told_what_more_would_take()
    {
        var (exitCode, output, error) = await ToolProcess.RunToolAsync("run", ToolProcess.Mishaps, "--only", "sound", "--within", "1s");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Matches(
            @"note the time allowed for this study, 0\.\d s, is less than its least, one sitting, which took \d+\.\d s; an interval needs two and a tight one 5: give it \d+ s with --within", output);
        Assert.Matches(@"steady +(\S+ +)?\S+ ns ± \?", output);
    }

    [Fact]
    public async Task A_variant_that_exhausts_memory_is_shown_and_the_others_are_measured()
    {
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "exhausts memory", "--within", "4s"], "DOTNET_GCHeapHardLimit=0x10000000");

        Assert.True(exitCode == ExitCode.Failed, error);
        Assert.Matches(@"steady +(\S+ +)?\S+ ns ± ", output);
        Assert.Contains("unsteady: threw OutOfMemoryException", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_input_that_differs_from_time_to_time_is_caught_by_the_answers()
    {
        var (exitCode, output, _) = await MeasureAsync("unsteady input");

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Matches("steady: answers \\d+ where \"steady\" answers \\d+ at its first call: the input's factory made something else the second time", output);
    }

    [Fact]
    public async Task A_slow_operation_is_read_one_call_at_a_time_and_ends_soon()
    {
        var (exitCode, output, error) = await MeasureAsync("is slow");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Matches(@"unsteady +(\S+ +)?4\d\d\.?\d* ms ± ", output);
        var run = RunFile.Read(Saved);
        Assert.All(run.Studies[0].Sittings, sitting => Assert.All(
            sitting.Readings.Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 }), reading => Assert.Equal(1, reading.Calls)));
    }

    [Fact]
    public async Task The_measured_process_holds_nothing_of_ours_but_the_lean_library_and_one_thread()
    {
        var (exitCode, output, error) = await MeasureAsync("looks around");

        Assert.True(exitCode == ExitCode.Fine, output + error);
    }

    [Fact]
    public async Task Every_figure_is_there_when_asked_for()
    {
        var (exitCode, output, error) = await ToolProcess.RunToolAsync(
            "run", ToolProcess.Mishaps, "--only", "shapes", "--overlapped", "--collections", "held", "--explain", "warmup", "--explain", "allocation", "--figures", "--within", "40s", "--out", Saved);

        Assert.True(exitCode == ExitCode.Fine, error);
        string[] expected =
        [
            "shapes · mix of 75 % short, 25 % long", "kept: prepare", "in steps, step 4", "side by side", "processor time", "items/s", "by its kinds", "kept in memory", "exceptions/call",
            "readings the collector was kept out of", "cold call", "fast after", "bytes/call before", "loop may leave", "in stages: sum", "types allocated", "a mark costs",
        ];
        Assert.All(expected, text => Assert.Contains(text, output, StringComparison.Ordinal));
        Assert.Empty(SchemaCheck.FromFile(Path.Combine(AppContext.BaseDirectory, "run.schema.json")).Errors(JsonNode.Parse(await File.ReadAllTextAsync(Saved))));
        var study = RunFile.Read(Saved).Studies[0];
        Assert.Contains(study.Diagnoses, diagnosis => diagnosis.RetainedBytes is > 3_900 and < 4_300);
        Assert.Contains(study.Diagnoses, diagnosis => diagnosis.FirstCallNanoseconds.Count == 5);
        Assert.Contains(study.Sittings, sitting => sitting.StageReadings.Count > 0);
    }

    [Fact]
    public async Task A_variant_that_hangs_is_given_up_after_the_patience_asked_for()
    {
        var (exitCode, output, _) = await MeasureAsync("hangs", "--patience", "2s");

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Contains("unsteady: gave no answer within 2 s; give it longer with --patience", output, StringComparison.Ordinal);
        Assert.Matches(@"steady +(\S+ +)?\S+ ns ± ", output);
    }

    [Fact]
    public async Task What_the_users_code_prints_cannot_break_the_protocol()
    {
        var (exitCode, output, error) = await MeasureAsync("prints");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.DoesNotContain("jsonrpc", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Mistakes_in_studies_come_out_together()
    {
        var (exitCode, _, error) = await ToolProcess.RunAsync([ToolProcess.Tool, "run", ToolProcess.Mishaps], "MISHAPS=mistakes");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        string[] expected =
        [
            "study \"bad dial\": the dial \"oil\" of \"turned\" has the setting 0; settings are 1 or more.", "has the setting -4",
            "study \"other input\": the factory of input \"a lamp\" made something else the second time", "study \"same names\": two variants are named \"twice\"", "study \"empty inputs\": it has no inputs",
            "study \"bad factory\": the factory of input \"a lamp\" threw InvalidOperationException: out of oil",
        ];
        Assert.All(expected, text => Assert.Contains(text, error, StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_pattern_that_matches_nothing_gets_the_names_that_exist()
    {
        var (exitCode, _, error) = await ToolProcess.RunToolAsync("run", ToolProcess.Demo, "--only", "lighthouse");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("no study matches --only \"lighthouse\"; the studies are \"nearest beacon\", \"decode lamp signals\", \"smooth tide levels\", ", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_interruption_keeps_what_was_measured_and_exits_130()
    {
        Assert.SkipUnless(!OperatingSystem.IsWindows(), "Windows sends no such signal to a process without a console.");
        string[] command = [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "sound", "--within", "60s", "--out", Saved];

        var (exitCode, output, error) = await ToolProcess.RunAsync(command, interruptWhen: () => File.Exists(Saved) && RunFile.Read(Saved).Studies[0].Sittings.Count > 0);

        Assert.Equal(ExitCode.Interrupted, exitCode);
        Assert.Contains("interrupted; what was measured until then is shown above and saved in", error, StringComparison.Ordinal);
        Assert.Contains("sound · a lamp", output, StringComparison.Ordinal);
        Assert.Contains("cut-short", output, StringComparison.Ordinal);
        var run = RunFile.Read(Saved);
        Assert.Equal(RunState.Interrupted, run.State);
        Assert.NotEmpty(run.Studies[0].Sittings[0].Readings);
    }

    [Fact]
    public async Task A_project_is_built_outside_its_folder_and_a_compiler_error_is_passed_on_in_short()
    {
        var project = Project("return await Tachyscope.Studies.RunAsync(args, Tachyscope.Study.Of(\"fog\").Input(\"x\", () => 1).Baseline(\"echo\", x => x));");

        var built = await RunProjectAsync(project, "--within", "2s");
        await File.WriteAllTextAsync(Path.Combine(_folder, "Program.cs"), "return fog;");
        var broken = await RunProjectAsync(project);

        Assert.True(built.ExitCode == ExitCode.Fine, built.Error);
        Assert.Contains("fog · x", built.Output, StringComparison.Ordinal);
        Assert.False(Directory.Exists(Path.Combine(_folder, "bin")) || Directory.Exists(Path.Combine(_folder, "obj")));
        Assert.Equal(ExitCode.CouldNotRun, broken.ExitCode);
        Assert.Contains("Program.cs(1,8): error CS0103: The name 'fog' does not exist in the current context", broken.Error, StringComparison.Ordinal);
        Assert.Matches("the whole output is in .*build.log", broken.Error);
    }

    [Fact]
    public async Task A_debug_build_is_refused_unless_insisted_and_then_carries_a_caveat()
    {
        var project = Project(
            "return await Tachyscope.Studies.RunAsync(args, Tachyscope.Study.Of(\"fog\").Input(\"x\", () => 1).Baseline(\"echo\", x => x));",
            "<Optimize>false</Optimize>");

        var refused = await RunProjectAsync(project);
        var insisted = await RunProjectAsync(project, "--within", "2s", "--insist");

        Assert.Equal(ExitCode.WrongUse, refused.ExitCode);
        Assert.Contains("Fog was built without optimisation (Debug)", refused.Error, StringComparison.Ordinal);
        Assert.Contains("--insist", refused.Error, StringComparison.Ordinal);
        Assert.Equal(ExitCode.Fine, insisted.ExitCode);
        Assert.Contains("caveat unoptimised-build", insisted.Output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_program_that_hands_over_no_studies_is_told_as_such()
    {
        var (exitCode, _, error) = await RunProjectAsync(Project("System.Console.WriteLine(\"fog\"); return 4;"));

        Assert.Equal(ExitCode.CouldNotRun, exitCode);
        Assert.Contains("could not be run as a worker: it ended its process with exit code 4", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_demo_comes_with_the_tool()
    {
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "demo", "--only", "decode*", "--within", "4s"], $"TACHYSCOPE_CACHE={Path.Combine(_folder, "cache")}");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("decode lamp signals · a greeting", output, StringComparison.Ordinal);
    }

    private Task<(int ExitCode, string Output, string Error)> MeasureAsync(string study, params string[] options)
        => ToolProcess.RunToolAsync(["run", ToolProcess.Mishaps, "--only", study, "--within", "6s", "--out", Saved, .. options]);

    private static Task<(int ExitCode, string Output, string Error)> RunProjectAsync(string project, params string[] options)
        => ToolProcess.RunAsync([ToolProcess.Tool, "run", project, .. options], $"TACHYSCOPE_CACHE={Path.GetTempPath()}/tachyscope test cache");

    private string Project(string program, string properties = "")
    {
        File.WriteAllText(Path.Combine(_folder, "Program.cs"), program);
        var project = Path.Combine(_folder, "Fog.csproj");
        File.WriteAllText(project, $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup><OutputType>Exe</OutputType><TargetFramework>net10.0</TargetFramework>{properties}</PropertyGroup>
              <ItemGroup><Reference Include="{typeof(Study).Assembly.Location}" /></ItemGroup>
            </Project>
            """);
        return project;
    }
}
