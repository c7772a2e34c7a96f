using System.Text.Json;
using System.Text.Json.Nodes;
using Tachyscope.Lab.StudyFiles;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>Studies wholly of guests, written in a file: what it may say, what it means, and when answers agree.</summary>
public sealed class StudyFileTests : IDisposable
{
    private const string Sound = """
        {
          "studies": [{
            "name": "nearest beacon",
            "inputs": [
              { "label": "two beacons", "value": { "x": [1, 4] } },
              { "label": "3 beacons", "file": "three.json", "size": 3, "of": "beacons" }
            ],
            "guests": [
              { "name": "Python", "language": "Python", "source": "nearest.py" },
              { "name": "C", "language": "C", "source": "nearest.c", "builds": ["gcc -O2", "clang -O2"], "operation": "nearest" },
              { "name": "mine", "language": "Zig", "commands": ["./worker --fast"] }
            ],
            "baseline": "C",
            "tolerance": 1e-6
          }]
        }
        """;

    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope-study-").FullName;

    private string Path => System.IO.Path.Combine(_folder, StudyFile.Name);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void A_file_gives_its_studies_with_a_row_for_every_build_and_inputs_by_value_and_by_file()
    {
        File.WriteAllText(System.IO.Path.Combine(_folder, "three.json"), "[1, 2, 3]");
        File.WriteAllText(Path, Sound);

        var (file, problems) = StudyFile.Read(Path);

        Assert.Empty(problems);
        var study = Assert.Single(file!.Studies);
        Assert.Equal(["Python", "C, gcc -O2", "C, clang -O2", "mine"], study.Variants.Select(row => row.Name));
        Assert.Equal([false, true, false, false], study.Variants.Select(row => row.IsBaseline));
        Assert.Equal(new GuestDescription { Language = "C", Source = "nearest.c", Build = "clang -O2", Operation = "nearest" },
            study.Variants[2].Guest);
        Assert.Equal(new GuestDescription { Language = "Zig", Build = "./worker --fast" }, study.Variants[3].Guest);
        Assert.Equal(new InputSize("beacons", 3), Assert.Single(study.Inputs[1].Sizes));
        Assert.Equal("[1, 2, 3]", file.Input("nearest beacon", 1).GetRawText());
        Assert.Equal(1e-6, study.Tolerance);
    }

    [Theory]
    [InlineData("\"studies\": [{", "\"studies\": [], \"other\": [{",
        "line 2: other is nothing that a study has; docs/study.schema.json says what may stand there.")]
    [InlineData("\"name\": \"nearest beacon\",", "", "a study has no name; name what the operation does.")]
    [InlineData("\"value\": { \"x\": [1, 4] }", "\"size\": 3", "the input \"two beacons\" has no label, or not one of value and file.")]
    [InlineData(", \"of\": \"beacons\"", "", "the input \"3 beacons\" has a size below 0, or only one of size and of")]
    [InlineData("three.json", "four.json", "the file four.json of input \"3 beacons\" cannot be read: ")]
    [InlineData("\"label\": \"3 beacons\"", "\"label\": \"two beacons\"",
        "two inputs are labelled \"two beacons\"; give each input a name of its own.")]
    [InlineData("\"name\": \"mine\"", "\"name\": \"C\"", "two guests are named \"C\"; give each guest a name of its own.")]
    [InlineData("\"commands\": [\"./worker --fast\"]", "\"builds\": [\"cc\"]",
        "the guest \"mine\" has no name, or not one of source (with language and builds), commands (with language) and runs.")]
    [InlineData("\"baseline\": \"C\"", "\"baseline\": \"D\"", "its baseline \"D\" is no guest; the guests are Python, C, mine.")]
    [InlineData("1e-6", "-1", "the tolerance -1 is no number of 0 or more; write one such as 1e-12.")]
    [InlineData("\"guests\": [", "\"guests\": [,", "line 8: ")]
    public void What_is_wrong_in_a_file_is_told_with_its_way_out(string sound, string wrong, string told)
    {
        File.WriteAllText(System.IO.Path.Combine(_folder, "three.json"), "[1, 2, 3]");
        File.WriteAllText(Path, Sound.Replace(sound, wrong, StringComparison.Ordinal));

        var (file, problems) = StudyFile.Read(Path);

        Assert.Null(file);
        Assert.Contains(problems, problem
            => problem.StartsWith(Path, StringComparison.Ordinal) && problem.Contains(told, StringComparison.Ordinal));
    }

    [Fact]
    public void The_schema_takes_what_the_reader_takes_and_no_other_member()
    {
        var schema = SchemaCheck.FromFile(System.IO.Path.Combine(AppContext.BaseDirectory, "study.schema.json"));

        Assert.Empty(schema.Errors(JsonNode.Parse(Sound)!));
        Assert.NotEmpty(schema.Errors(JsonNode.Parse(Sound.Replace("\"tolerance\"", "\"tolerrance\"", StringComparison.Ordinal))!));
        Assert.NotEmpty(schema.Errors(JsonNode.Parse(Sound.Replace("\"commands\"", "\"builds\"", StringComparison.Ordinal))!));
        Assert.NotEmpty(schema.Errors(JsonNode.Parse(Sound.Replace("\"Zig\"", "7", StringComparison.Ordinal))!));
    }

    [Theory]
    [InlineData("3", "3.0", 0, null)]
    [InlineData("3", "3.001", 0, "answers 3.001 where \"first\" answers 3")]
    [InlineData("3", "3.001", 1e-3, null)]
    [InlineData("1e400", "1e400", 0, null)]
    [InlineData("1e400", "1e300", 1, "answers 1e300 where \"first\" answers 1e400")]
    [InlineData("[1, [2, 3]]", "[1, [2, 4]]", 0, "answers 4 at index 1 at index 1 where \"first\" answers 3")]
    [InlineData("[1, 2]", "[1]", 0, "answers 1 elements where \"first\" answers 2")]
    [InlineData("{\"x\": 1, \"y\": 2}", "{\"y\": 2, \"x\": 1}", 0, null)]
    [InlineData("{\"x\": 1}", "{\"y\": 1}", 0, "answers nothing as x where \"first\" answers 1")]
    [InlineData("\"NaN\"", "\"NaN\"", 0, null)]
    [InlineData("\"lamp\"", "\"buoy\"", 1, "answers \"buoy\" where \"first\" answers \"lamp\"")]
    [InlineData("null", "0", 1, "answers 0 where \"first\" answers null")]
    public async Task Answers_are_compared_as_JSON(string expected, string given, double tolerance, string? told)
    {
        File.WriteAllText(Path, $$"""
            { "studies": [{ "name": "lamps", "inputs": [{ "label": "a lamp", "value": 1 }], "tolerance": {{JsonSerializer.Serialize(tolerance)}},
              "guests": [{ "name": "first", "language": "C", "source": "a.c" }, { "name": "second", "language": "C", "source": "b.c" }] }] }
            """);
        await using var worker = new StudyFileWorker(StudyFile.Read(Path).File!);

        Assert.Null((await JudgeAsync(worker, 0, expected)).Failure);
        var reply = await JudgeAsync(worker, 1, given);

        Assert.Equal(told is null ? null : CellFailureKind.Disagrees, reply.Failure);
        Assert.Equal(told, reply.Reason);
    }

    [Fact]
    public async Task A_study_of_guests_has_no_target_and_a_folder_with_a_project_is_none()
    {
        File.WriteAllText(Path, Sound.Replace("\"file\": \"three.json\"", "\"value\": 3", StringComparison.Ordinal));

        using var plain = await new TargetWorkshop(_folder).PrepareAsync(_folder, new Target { Name = "" }, CancellationToken.None);
        using var other = await new TargetWorkshop(_folder).PrepareAsync(_folder, new Target { Name = "aot", IsAheadOfTime = true },
            CancellationToken.None);

        Assert.NotNull(plain.Starter);
        Assert.True(other.IsWrongUse);
        Assert.Contains("is a study of guests, which has no runtime and no compiler of its own", Assert.Single(other.Errors),
            StringComparison.Ordinal);
        File.WriteAllText(System.IO.Path.Combine(_folder, "lamps.csproj"), "<Project />");
        Assert.Null(StudyFile.Find(_folder));
        Assert.Equal(Path, StudyFile.Find(Path));
    }

    private static Task<CheckReply> JudgeAsync(StudyFileWorker worker, int row, string answer)
        => worker.AskAsync<JudgeRequest, CheckReply>(
            WorkerMethods.Judge,
            new JudgeRequest { Study = "lamps", Seed = 1, Input = 0, Variant = row, Reference = 0, Value = JsonDocument
                .Parse(answer).RootElement },
            new Patience(new RunPlan()), CancellationToken.None);
}
