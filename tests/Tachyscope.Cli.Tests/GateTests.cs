using System.Text.Json;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>The gate, from the command line to the exit code.</summary>
public sealed class GateTests : IDisposable
{
    private readonly ScriptedProject _project = new(ScriptedStudies.Sound());

    private string Place => Path.Combine(_project.Folder, "tachyscope.history");

    public void Dispose() => _project.Dispose();

    [Fact]
    public async Task Other_work_than_that_of_a_saved_run_closes_it()
    {
        Script On(string input) => ScriptedStudies.Sound() with
        {
            InputHash = input, Rows = [new() { Answer = "7" }, new() { Answer = "7" }],
        };
        using var before = new ScriptedProject(On("dusk"));
        using var now = new ScriptedProject(On("dawn"));
        await before.RunAsync("--save", "before", "--history", Place);

        var (exitCode, told, error) = await now.AskAsync(["gate", now.Assembly, "--against", "before", "--history", Place]);

        Assert.True(exitCode == ExitCode.Failed, error);
        Assert.Contains("✗ lamps · quick · a lamp did other work (another input), so that its time cannot be held against what it was",
            told, StringComparison.Ordinal);
        Assert.DoesNotContain("not told", told, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_slower_or_allocates_more_than_a_saved_run_closes_it()
    {
        await _project.RunAsync("--save", "before");
        using var slower = new ScriptedProject(ScriptedStudies.Sound() with { Rows = [new() { Bytes = 48 },
            new() { Nanoseconds = [120] }] });
        var (markdown, sarif) = (Path.Combine(slower.Folder, "a.md"), Path.Combine(slower.Folder, "a.sarif"));

        var (exitCode, output, error) = await slower.AskAsync(
            ["gate", slower.Assembly, "--against", "before", "--history", Place, "--within", "20s", "--out", markdown, "--out", sarif]);

        Assert.True(exitCode == ExitCode.Failed, error);
        Assert.Contains("gate · ✗ lamps · steady · a lamp allocates 48 B where it was 24 B", output, StringComparison.Ordinal);
        Assert.Matches(@"gate · ✗ lamps · quick · a lamp got slower, × 2\.4\S* .*, where 2\.0 % is allowed", output);
        Assert.Contains("gate · ✗ closed: 2 of 2 object, ", output, StringComparison.Ordinal);
        Assert.StartsWith("## Gate closed\n\n- lamps · steady · a lamp allocates 48 B", await File.ReadAllTextAsync(markdown),
            StringComparison.Ordinal);
        using var told = JsonDocument.Parse(await File.ReadAllTextAsync(sarif));
        Assert.Equal(["allocates-more", "slower"], told.RootElement.GetProperty("runs")[0].GetProperty("results").EnumerateArray()
            .Select(result => result.GetProperty("ruleId").GetString()));
    }

    [Fact]
    public async Task Rules_of_the_project_allow_what_they_allow()
    {
        await _project.RunAsync("--save", "before");
        using var slower = new ScriptedProject(ScriptedStudies.Sound() with { Rows = [new() { Bytes = 48 },
            new() { Nanoseconds = [60] }] });
        await File.WriteAllTextAsync(Path.Combine(slower.Folder, "tachyscope.json"),
            """
            { "gate": { "within": "20s",
                "rules": [{ "cells": "lamps · steady", "bytes": "any" }, { "cells": "* · quick", "margin": "50%" }] } }
            """);

        var allowed = await AskAsync();
        await File.WriteAllTextAsync(Path.Combine(slower.Folder, "tachyscope.json"),
            """{ "gate": { "within": "20s", "bytes": "any", "unclear": "fail" } }""");
        var strict = await AskAsync();

        Assert.True(allowed.ExitCode == ExitCode.Fine, allowed.Output + allowed.Error);
        Assert.Matches(@"gate · ▲ open: ", allowed.Output);
        Assert.Equal(ExitCode.Failed, strict.ExitCode);
        Assert.Matches("lamps · steady · a lamp is not told, .*, where 2.0 % is allowed", strict.Output);

        Task<(int ExitCode, string Output, string Error)> AskAsync()
            => slower.AskAsync(["gate", slower.Assembly, "--against", "before", "--history", Place]);
    }

    [Fact]
    public async Task Without_anything_to_hold_it_against_declared_limits_decide()
    {
        var broken = ScriptedStudies.Of("lamps", "steady") with { Limits = [new LimitDescription { AllocatedBytes = 0 }] };
        using var project = new ScriptedProject(ScriptedStudies.Sound() with { Studies = [broken] });

        var (exitCode, output, _) = await project.AskAsync(["gate", project.Assembly]);
        var sound = await _project.AskAsync(["gate", _project.Assembly]);

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Contains("gate · ✗ lamps · steady · a lamp: bytes per call 24 B where 0 B is "
            + "allowed", output, StringComparison.Ordinal);
        Assert.Equal(ExitCode.Fine, sound.ExitCode);
        Assert.Contains("gate · ▲ open", sound.Output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_saved_run_of_other_cells_judges_nothing()
    {
        await _project.RunAsync("--save", "before");
        using var other = new ScriptedProject(ScriptedStudies.Sound() with { Studies = [ScriptedStudies.Of("lamps", "calm")] });

        var (exitCode, output, error) = await other.AskAsync(["gate", other.Assembly, "--against", "before", "--history", Place]);

        Assert.Equal(ExitCode.CouldNotRun, exitCode);
        Assert.DoesNotContain("gate · ", output, StringComparison.Ordinal);
        Assert.Contains("run 1 (before) and this run share no cell: run 1 (before) has \"lamps · steady · a lamp\" and \"lamps · quick · "
            + "a lamp\", this run has \"lamps · calm · a lamp\"; name a run of the same cells.", error, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("""{ "gate": { "margin": "much" } }""", "gate, margin: \"much\" is no percentage")]
    [InlineData("""{ "gate": { "bytes": "fewer" } }""", "gate, bytes: \"fewer\" is neither \"no more\" nor \"any\"")]
    [InlineData("""{ "gate": { "within": "soon" } }""", "gate, within: \"soon\" is no span of time")]
    [InlineData("""{ "gate": { "marign": "2%" } }""", "it is no rule of a gate; write { \"gate\": { \"margin\": \"2%\"")]
    public async Task A_rule_that_is_none_is_told_before_anything_is_measured(string rules, string message)
    {
        await File.WriteAllTextAsync(Path.Combine(_project.Folder, "tachyscope.json"), rules);

        var (exitCode, _, error) = await _project.AskAsync(["gate", _project.Assembly]);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(message, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_neither_a_revision_nor_a_run_is_told()
    {
        var (exitCode, _, error) = await _project.AskAsync(["gate", _project.Assembly, "--against", "nobody"]);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("lies in no git repository, so that it has no revision nobody.", error, StringComparison.Ordinal);
        Assert.Contains("nor is nobody a saved run: there is no file nobody, and no history", error, StringComparison.Ordinal);
    }
}
