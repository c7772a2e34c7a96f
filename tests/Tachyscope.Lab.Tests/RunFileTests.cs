using System.Text.Json;
using System.Text.Json.Nodes;
using Tachyscope.Lab.Experiments;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Lab.Tests;

public sealed class RunFileTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope").FullName;

    private static SchemaCheck Schema => SchemaCheck.FromFile(Path.Combine(AppContext.BaseDirectory, "run.schema.json"));

    private string File => Path.Combine(_folder, "run.json");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task A_run_comes_back_as_it_was_written()
    {
        var run = await MeasuredAsync();

        RunFile.Write(run, File);
        var back = RunFile.Read(File);

        Assert.Equal(run.Studies[0].Sittings[0].Readings, back.Studies[0].Sittings[0].Readings);
        Assert.Equal(run.Studies[0].Sittings[^1].Cells, back.Studies[0].Sittings[^1].Cells);
        Assert.Equal((run.Started, run.State, run.Plan.Seed, run.Machine), (back.Started, back.State, back.Plan.Seed, back.Machine));
        Assert.Equal([File], Directory.GetFiles(_folder));
    }

    [Fact]
    public async Task A_state_that_has_no_name_is_not_written()
    {
        var run = (await MeasuredAsync()) with { State = (RunState)99 };

        Assert.ThrowsAny<JsonException>(() => RunFile.Write(run, Stream.Null));
    }

    [Fact]
    public async Task What_is_written_keeps_to_the_published_schema()
    {
        RunFile.Write(await MeasuredAsync(), File);

        Assert.Empty(Schema.Errors(Parsed()));
    }

    [Fact]
    public async Task The_schema_refuses_what_is_no_run()
    {
        RunFile.Write(await MeasuredAsync(), File);
        var node = JsonNode.Parse(await System.IO.File.ReadAllTextAsync(File))!;
        node["studies"]![0]!["sittings"]![0]!["readings"]![0]![3] = 0;
        node["state"] = "asleep";
        node["weather"] = "fog";

        Assert.Equal(3, Schema.Errors(node).Count);
    }

    [Fact]
    public async Task Every_reading_stands_on_a_line_of_its_own()
    {
        var run = await MeasuredAsync();

        RunFile.Write(run, File);

        Assert.Equal(1 + run.Studies.Sum(study => study.Sittings.Sum(sitting => sitting.Readings.Count)),
            (await System.IO.File.ReadAllLinesAsync(File)).Length);
    }

    [Theory]
    [InlineData("\"format\":\"tachyscope-run\"", "\"format\":\"log\"",
        "run.json, $.format: \"log\" is not \"tachyscope-run\", so it is no run of this tool; name a file written with --out.")]
    [InlineData("\"version\":3", "\"version\":7,\"tides\":{}",
        "run.json, $.version: 7 is newer than 3, which this tool reads; take a newer tool.")]
    [InlineData("\"version\":3,\"tool\":\"test\"", "\"version\":7", "run.json, $.version: 7 is newer than 3")]
    [InlineData("\"version\":3", "\"version\":0",
        "run.json, $.version: 0 is none of 1 to 3, which this tool reads; take the tool that wrote it.")]
    [InlineData("\"seed\":1", "\"seed\":\"one\"", "run.json, line 1, $.plan.seed: ")]
    [InlineData("\"inputs\":[", "\"inputs\":null,\"fog\":[", "run.json, line 1, $.studies[0].study.inputs")]
    [InlineData("\n[1,", "\n[\"x\",", "$.studies[0].sittings[0].readings[")]
    [InlineData("\"marginShare\":0.01", "\"marginShare\":7",
        "run.json, line 1, $.plan.marginShare: 7 is no share between 0 and 1; the file was altered or damaged: take it from where it "
            + "was saved, or measure again.")]
    [InlineData("\"kind\":\"variant\",\"variant\":1", "\"kind\":\"variant\",\"variant\":9", ".variant: 9 names none of the ")]
    [InlineData("\"warmUps\":[{\"cell\":0", "\"warmUps\":[{\"cell\":-1", "$.studies[0].sittings[0].warmUps[0].cell: -1 names none of the")]
    [InlineData("\"rounds\":", "\"rounds\":1000000000,\"fog\":", "$.studies[0].sittings[0].rounds: 1000000000 rounds cannot have left")]
    [InlineData("\"beganSeconds\":", "\"beganSeconds\":-7,\"fog\":",
        "$.studies[0].sittings[0].beganSeconds: its times are below 0, or it ended before it began")]
    [InlineData("\"callsPerReading\":", "\"callsPerReading\":-1,\"fog\":",
        "$.studies[0].sittings[0].warmUps[0]: a time or a count is below 0")]
    [InlineData("\"stageReadings\":[", "\"stageReadings\":[{\"round\":0,\"cell\":0,\"calls\":1,\"elapsedNanoseconds\":-5,\"stages\":[]}",
        "stageReadings[0].elapsedNanoseconds: -5 ns is no time")]
    [InlineData("\"sittings\":[", "\"sittings\":[null,", "$.studies[0].sittings[0]: there is nothing where a sitting should be")]
    public async Task A_file_that_is_no_sound_run_of_this_version_is_refused_with_its_place_and_the_way_out(string found, string altered,
        string message)
    {
        RunFile.Write(await MeasuredAsync(), File);
        var text = await System.IO.File.ReadAllTextAsync(File);
        var at = text.IndexOf(found, StringComparison.Ordinal);
        await System.IO.File.WriteAllTextAsync(File, string.Concat(text.AsSpan(0, at), altered, text.AsSpan(at + found.Length)));

        var exception = Assert.Throws<InvalidDataException>(() => RunFile.Read(File));

        Assert.StartsWith(File, exception.Message, StringComparison.Ordinal);
        Assert.Contains(message, exception.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_fault_among_the_readings_is_told_with_its_line()
    {
        RunFile.Write(await MeasuredAsync(), File);
        var lines = await System.IO.File.ReadAllLinesAsync(File);
        lines[40] = lines[40].Replace("[", "[\"fog\",", StringComparison.Ordinal);
        await System.IO.File.WriteAllLinesAsync(File, lines);

        Assert.Contains("run.json, line 41, $.studies[0].sittings[0].readings[39]",
            Assert.Throws<InvalidDataException>(() => RunFile.Read(File)).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", "it holds no JSON object, so it is no run of this tool; name a file written with --out.")]
    [InlineData("fog over the harbour", "it holds no JSON object")]
    [InlineData("null", "it holds no JSON object")]
    [InlineData("{\"lamps\":[1,2]}", "$.format: it has none, so it is no run of this tool")]
    [InlineData("{\"format\":\"tachyscope-run\",\"version\":3,\"tool\":\"te",
        "line 1, $.tool: the file ends in the middle; it was cut short")]
    public async Task A_file_of_something_else_is_told_from_a_damaged_one(string content, string message)
    {
        await System.IO.File.WriteAllTextAsync(File, content);

        Assert.Contains(message, Assert.Throws<InvalidDataException>(() => RunFile.Read(File)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_file_cut_short_is_refused_with_the_line_it_ends_on()
    {
        RunFile.Write(await MeasuredAsync(), File);
        var lines = await System.IO.File.ReadAllLinesAsync(File);
        await System.IO.File.WriteAllTextAsync(File, string.Join('\n', lines[..30]));

        Assert.Contains("run.json, line 30, $.studies[0].sittings[0].readings[28]",
            Assert.Throws<InvalidDataException>(() => RunFile.Read(File)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_an_older_file_does_not_say_is_at_its_default()
    {
        RunFile.Write(await MeasuredAsync(), File);
        var text = await System.IO.File.ReadAllTextAsync(File);
        await System.IO.File.WriteAllTextAsync(File, text.Replace("\"limits\":[],", "", StringComparison.Ordinal)
            .Replace("\"repeats\":1,", "", StringComparison.Ordinal));

        var run = RunFile.Read(File);

        Assert.Empty(run.Studies[0].Study.Limits);
        Assert.Equal(1, run.Plan.Repeats);
    }

    private JsonNode? Parsed() => JsonNode.Parse(System.IO.File.ReadAllText(File));

    private static async Task<Run> MeasuredAsync()
    {
        var around = new ExperimentSurroundings { Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Tool = "test" };
        return (await new Experiment(new ScriptedWorkers(ExperimentTests.Study("lamps", 1)), new RunPlan(), around)
            .RunAsync(CancellationToken.None)).Run!;
    }
}
