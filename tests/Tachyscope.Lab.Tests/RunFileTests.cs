using System.Text.Json.Nodes;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Storing;
using Tachyscope.Runs;

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

    [Theory]
    [InlineData("\"format\":\"tachyscope-run\"", "\"format\":\"log\"", "$.format: \"log\" is not \"tachyscope-run\"")]
    [InlineData("\"version\":1", "\"version\":2", "$.version: 2 is not 1")]
    [InlineData("\"seed\":1", "\"seed\":\"one\"", "$.plan.seed")]
    [InlineData("\"readings\":[[", "\"readings\":[[\"x\",", "readings")]
    public async Task A_file_that_is_no_run_of_this_version_is_refused_with_its_place(string found, string altered, string message)
    {
        RunFile.Write(await MeasuredAsync(), File);
        var text = await System.IO.File.ReadAllTextAsync(File);
        await System.IO.File.WriteAllTextAsync(File, text.Replace(found, altered, StringComparison.Ordinal));

        var exception = Assert.Throws<InvalidDataException>(() => RunFile.Read(File));

        Assert.Contains(File, exception.Message, StringComparison.Ordinal);
        Assert.Contains(message, exception.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_file_cut_short_is_refused_with_its_line()
    {
        RunFile.Write(await MeasuredAsync(), File);
        var text = await System.IO.File.ReadAllTextAsync(File);
        await System.IO.File.WriteAllTextAsync(File, text[..(text.Length / 2)]);

        Assert.Contains("line 1", Assert.Throws<InvalidDataException>(() => RunFile.Read(File)).Message, StringComparison.Ordinal);
    }

    private JsonNode? Parsed() => JsonNode.Parse(System.IO.File.ReadAllText(File));

    private static async Task<Run> MeasuredAsync()
    {
        var around = new ExperimentSurroundings { Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" }, Tool = "test" };
        return (await new Experiment(new ScriptedWorkers(ExperimentTests.Study("lamps", 1)), new RunPlan(), around).RunAsync(CancellationToken.None)).Run!;
    }
}
