using System.Text.Json;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using DuckDB.NET.Data;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Analysis.Tests;
using Tachyscope.Exports.Charts;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Exports.Tests;

/// <summary>Every format is read back by somebody else's reader, and says what the findings say.</summary>
public sealed class FormatTests : IDisposable
{
    private readonly Hostile _hostile = new();

    public void Dispose() => _hostile.Dispose();

    [Fact]
    public async Task Results_as_comma_separated_values_hold_every_name_and_every_interval()
    {
        var path = await _hostile.WriteAsync("a.csv");

        var rows = Query($"select study, variant, input, time_ns, ratio, verdict, allocated_bytes from read_csv('{path}', header=true, "
            + "strict_mode=true)");
        Assert.Equal(_hostile.Cells, rows.Count);
        Assert.Equal([Hostile.Study, "fog"], rows.Select(row => (string)row[0]!).Distinct());
        // What a spreadsheet would calculate is text.
        Assert.Equal(["'=1+1", .. Hostile.Variants[1..]], rows.Select(row => (string)row[1]!).Distinct());
        var first = _hostile.Found[0].Targets[0].Inputs[0].Cells[1];
        Assert.Equal((first.NanosecondsPerCall.Estimate, first.Contrast!.TimeRatio.Estimate, "faster", 0L),
            ((double)rows[1][3]!, (double)rows[1][4]!, rows[1][5], Convert.ToInt64(rows[1][6], null)));
        Assert.Contains("\r\n", await File.ReadAllTextAsync(path, TestContext.Current.CancellationToken), StringComparison.Ordinal);
    }

    private static (Run Run, StudyOnTargets Found) WithSpeeds()
    {
        var run = new RunSimulator
        {
            Times = [100, 95], Sittings = 14, Rounds = 12, Slowing = 0, SecondSpeeds = [(0, 1), (0.4, 1.3)],
        }.Make(3);
        return (run, TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default));
    }

    [Fact]
    public async Task What_settles_at_several_speeds_has_each_of_them_in_its_row()
    {
        var (run, found) = WithSpeeds();
        var path = Path.Combine(_hostile.Folder, "speeds.csv");
        await ExportFile.WriteAsync(new Export(run, [found]), path, WholeFile.WriteAsync);

        var rows = Query($"select speeds_ns, speeds_placements, placements from read_csv('{path}', header=true, all_varchar=true)");

        Assert.Equal([null, null, "14"], rows[0]);
        var (times, placements) = (((string)rows[1][0]!).Split(' '), ((string)rows[1][1]!).Split(' ').Select(int.Parse).ToList());
        Assert.Equal(found.Targets[0].Inputs[0].Cells[1].Speeds.Select(speed => speed.NanosecondsPerCall.Estimate),
            times.Select(time => double.Parse(time, System.Globalization.CultureInfo.InvariantCulture)));
        Assert.Equal((2, 14, "14"), (placements.Count, placements.Sum(), (string)rows[1][2]!));
        // Nor is their mean drawn, at which it never runs.
        var drawn = ChartReporter.Of(run, run.Studies[0], found).First(chart => chart.Name == "contrasts").Series
            .SelectMany(series => series.Points.Select(point => point.X)).Order();
        Assert.Equal(found.Targets[0].Inputs[0].Cells[1].Contrast!.Speeds.Select(speed => speed.TimeRatio.Estimate).Order(), drawn);
    }

    [Theory]
    [InlineData("speeds.html", "data-v=\"[^\"]*\">{0} <span")]
    [InlineData("speeds.xml", "<system-out>{0} a call, ")]
    public async Task Where_there_are_several_speeds_none_is_their_mean(string name, string written)
    {
        var (run, found) = WithSpeeds();
        var path = Path.Combine(_hostile.Folder, name);

        await ExportFile.WriteAsync(new Export(run, [found]), path, WholeFile.WriteAsync);

        var text = System.Net.WebUtility.HtmlDecode(await File.ReadAllTextAsync(path));
        Assert.Matches(written.Replace("{0}", @"9\d\.?\d* ns or 12\d\.?\d* ns", StringComparison.Ordinal), text);
        Assert.Matches(@"÷ 1\.0\d* or × 1\.2\d*", text);
    }

    [Theory]
    [InlineData("a.readings.csv", "read_csv('{0}', header=true, strict_mode=true)")]
    [InlineData("a.parquet", "read_parquet('{0}')")]
    public async Task Readings_are_all_there_in_both_tables(string name, string table)
    {
        var path = await _hostile.WriteAsync(name);

        var from = string.Format(System.Globalization.CultureInfo.InvariantCulture, table, path);
        var totals = Query($"select count(*), sum(elapsed_ns), sum(calls), sum(allocated_bytes), max(round) from {from}")[0];
        var all = _hostile.Run.Studies.SelectMany(study => study.Sittings).SelectMany(sitting => sitting.Readings).ToList();
        Assert.Equal(
            [_hostile.Readings, all.Sum(reading => reading.ElapsedNanoseconds), all.Sum(reading => reading.Calls),
                all.Sum(reading => reading.AllocatedBytes), all.Max(reading => reading.Round)],
            totals.Select(total => long.Parse(total!.ToString()!, System.Globalization.CultureInfo.InvariantCulture)));
        Assert.Equal(ReadingRow.Names, Query($"describe select * from {from}").Select(column => (string)column[0]!));
        Assert.NotEmpty(Query($"select * from {from} where variant = '(metronome)' and input is not distinct from "
            + $"{(name.EndsWith("csv", StringComparison.Ordinal) ? "null" : "''")}"));
    }

    [Fact]
    public async Task A_test_report_counts_what_it_holds_and_fails_where_a_limit_is_broken()
    {
        var suites = XDocument.Load(await _hostile.WriteAsync("a.xml")).Root!;

        var cases = suites.Descendants("testcase").ToList();
        Assert.Equal(("testsuites", _hostile.Cells), (suites.Name.LocalName, cases.Count));
        Assert.All(suites.Elements("testsuite").Prepend(suites), suite =>
        {
            Assert.Equal(suite.Descendants("testcase").Count(), (int)suite.Attribute("tests")!);
            Assert.Equal(suite.Descendants("failure").Count(), (int)suite.Attribute("failures")!);
        });
        Assert.Equal(6, cases.Count(each => each.Element("failure") is not null));
        Assert.All(cases.Where(each => each.Element("failure") is not null), failed =>
        {
            Assert.Contains("back", (string)failed.Attribute("name")!, StringComparison.Ordinal);
            Assert.Equal("limit-broken", (string)failed.Element("failure")!.Attribute("type")!);
            Assert.Contains("24 B where 16 B is allowed", (string)failed.Element("failure")!.Attribute("message")!,
                StringComparison.Ordinal);
        });
        Assert.All(cases, each => Assert.True((double)each.Attribute("time")! is > 0 and < 1));
    }

    [Fact]
    public async Task Objections_have_a_rule_a_level_a_message_and_a_place()
    {
        using var file = JsonDocument.Parse(await File.ReadAllTextAsync(await _hostile.WriteAsync("a.sarif"),
            TestContext.Current.CancellationToken));

        Assert.Equal("2.1.0", file.RootElement.GetProperty("version").GetString());
        var run = Assert.Single(file.RootElement.GetProperty("runs").EnumerateArray());
        var rules = run.GetProperty("tool").GetProperty("driver").GetProperty("rules").EnumerateArray()
            .Select(rule => rule.GetProperty("id").GetString()).ToList();
        var results = run.GetProperty("results").EnumerateArray().ToList();
        Assert.Equal(6, results.Count);
        Assert.All(results, result =>
        {
            Assert.Equal("limit-broken", result.GetProperty("ruleId").GetString());
            Assert.Equal("limit-broken", rules[result.GetProperty("ruleIndex").GetInt32()]);
            Assert.Equal("error", result.GetProperty("level").GetString());
            Assert.Contains("16 B is allowed", result.GetProperty("message").GetProperty("text").GetString(), StringComparison.Ordinal);
            var place = result.GetProperty("locations")[0];
            Assert.Equal(Hostile.Variants[2], place.GetProperty("logicalLocations")[0].GetProperty("name").GetString());
            Assert.Equal("pier%20light/a%231.cs",
                place.GetProperty("physicalLocation").GetProperty("artifactLocation").GetProperty("uri").GetString());
            Assert.Equal(7, place.GetProperty("physicalLocation").GetProperty("region").GetProperty("startLine").GetInt32());
        });
    }

    [Fact]
    public async Task Metrics_are_typed_labelled_and_ended()
    {
        var lines = (await File.ReadAllTextAsync(await _hostile.WriteAsync("a.prom"), TestContext.Current.CancellationToken)).Split('\n');

        Assert.Equal("# EOF", lines[^1]);
        var family = "";
        var values = new Dictionary<string, List<(Dictionary<string, string> Labels, double Value)>>();
        foreach (var line in lines[..^1])
        {
            if (Regex.Match(line, "^# (TYPE|UNIT|HELP) ([a-z_]+) (.+)$") is { Success: true } told)
            {
                family = told.Groups[2].Value;
                Assert.True(told.Groups[1].Value != "TYPE" || told.Groups[3].Value == "gauge");
                Assert.True(told.Groups[1].Value != "UNIT" || family.EndsWith($"_{told.Groups[3].Value}", StringComparison.Ordinal));
                values.TryAdd(family, []);
                continue;
            }

            var sample = Regex.Match(line, """^([a-z_]+)\{((?:[a-z]+="(?:[^"\\\n]|\\["\\n])*",?)+)\} (\S+)$""");
            Assert.True(sample.Success && sample.Groups[1].Value == family, line);
            var labels = Regex.Matches(sample.Groups[2].Value, @"([a-z]+)=""((?:[^""\\]|\\.)*)""").ToDictionary(
                label => label.Groups[1].Value,
                label => Regex.Replace(label.Groups[2].Value, @"\\(.)", escaped => escaped.Groups[1].Value == "n" ? "\n" : escaped.Groups[1].Value));
            values[family].Add((labels, double.Parse(sample.Groups[3].Value, System.Globalization.CultureInfo.InvariantCulture)));
        }

        var times = values["tachyscope_call_seconds"];
        Assert.Equal(_hostile.Cells, times.Count);
        Assert.Equal(Hostile.Variants, times.Select(sample => sample.Labels["variant"]).Distinct());
        Assert.Equal([Hostile.Study, "fog"], times.Select(sample => sample.Labels["study"]).Distinct());
        Assert.Equal(_hostile.Found[0].Targets[0].Inputs[0].Cells[0].NanosecondsPerCall.Estimate * 1e-9, times[0].Value, 1e-15);
    }

    [Fact]
    public async Task Markdown_holds_names_as_text_in_whole_rows()
    {
        var text = await File.ReadAllTextAsync(await _hostile.WriteAsync("a.md"), TestContext.Current.CancellationToken);

        Assert.DoesNotContain("<script", text, StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain("<b>", text.Split("measured again by")[0], StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain(text.EnumerateRunes(), rune => rune.Value is 0x1b or 0x202e or 7);
        var rows = text.Split('\n').Where(line => line.StartsWith('|')).ToList();
        var tables = rows.Select(row => Regex.Count(row, @"(?<!\\)\|")).ToList();
        // Three inputs, names and remarks; or the summary.
        Assert.All(tables, bars => Assert.True(bars == 6));
        Assert.Contains("measured again by ``tachyscope run 'lamps `of` <b>'``", text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_run_is_read_and_examined_in_three_lines()
    {
        var path = Path.Combine(_hostile.Folder, "run.json");
        RunFile.Write(_hostile.Run, path);

        var run = Runs.Run.Read(path);
        var findings = Analysis.Findings.Analyst.Examine(run);
        var contrasts = findings.SelectMany(study => study.Inputs).SelectMany(input => input.Cells).Select(cell => cell.Contrast).ToList();

        Assert.Equal(_hostile.Run.Command, run.Command);
        Assert.Equal(_hostile.Found[0].Targets[0].Inputs[0].Cells[1].Contrast!.TimeRatio, contrasts[1]!.TimeRatio);
        await Task.CompletedTask;
    }

    [Theory]
    [InlineData("a.pdf", "\".pdf\" is no ending of a file that can be written; there are .json, .readings.csv, .csv, .html, ")]
    [InlineData("run", "\"\" is no ending of a file that can be written; there are .json, ")]
    [InlineData("a.fog.png", "\"fog\" is no figure; name one before the ending, as in run.growth.png: contrasts, growth, dials,")]
    public void What_cannot_be_written_is_told_with_what_can(string name, string message)
        => Assert.StartsWith(message, ExportFile.ProblemOf(name), StringComparison.Ordinal);

    [Fact]
    public async Task A_figure_that_a_run_does_not_have_is_told_and_nothing_is_left_half_written()
    {
        var path = Path.Combine(_hostile.Folder, "a.csv");
        await File.WriteAllTextAsync(path, "before", TestContext.Current.CancellationToken);

        var missing = await Assert.ThrowsAsync<InvalidDataException>(() => _hostile.WriteAsync("a.stages.png"));
        await Assert.ThrowsAsync<IOException>(() => ExportFile.WriteAsync(new Export(_hostile.Run, _hostile.Found), path, (file, write)
            => WholeFile.WriteAsync(file, async stream =>
        {
            await write(stream);
            throw new IOException("the disk is full");
        })));

        Assert.StartsWith("this run has no figure \"stages\"; it has contrasts, growth, memory, readings", missing.Message,
            StringComparison.Ordinal);
        Assert.Equal("before", await File.ReadAllTextAsync(path, TestContext.Current.CancellationToken));
        Assert.Equal(["a.csv"], Directory.GetFiles(_hostile.Folder).Select(Path.GetFileName));
    }

    private static List<object?[]> Query(string sql)
    {
        using var connection = new DuckDBConnection("DataSource=:memory:");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        using var reader = command.ExecuteReader();
        List<object?[]> rows = [];
        while (reader.Read())
        {
            var row = new object[reader.FieldCount];
            reader.GetValues(row);
            rows.Add([.. row.Select(value => value is DBNull ? null : value)]);
        }

        return rows;
    }
}
