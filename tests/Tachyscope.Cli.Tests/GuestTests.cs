using Tachyscope.Lab.Guests;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>Rows in other languages, through the tool: what becomes of each guest, and of the rest beside one that misbehaves.</summary>
public sealed class GuestTests
{
    private const string Given = "{\"start\": 3}";

    public static TheoryData<string, string> Kits => new()
    {
        { "chain.c", "libcjson-dev" }, { "chain.cpp", "libcjson-dev" }, { "chain.rs", "cargo and librust-serde-json-dev" },
        { "go/chain.go", "golang-go" }, { "Chain.java", "default-jdk-headless and libgoogle-gson-java" }, { "chain.js", "nodejs" },
        { "chain.py", "python3" },
    };

    private static string Guests => Path.Combine(Path.GetDirectoryName(ToolProcess.Guests)!, "sources");

    [Theory]
    [MemberData(nameof(Kits))]
    public async Task A_guest_of_every_kit_keeps_to_the_protocol(string source, string packages)
    {
        var (exitCode, output, error) = await ToolHere.RunAsync("guest", "check", Path.Combine(Guests, source), "--value", Given);

        Assert.SkipWhen(error.Contains("there is no ", StringComparison.Ordinal) || error.Contains("; install ", StringComparison.Ordinal),
            $"{error.Trim()} ({packages})");
        Assert.True(exitCode == ExitCode.Fine, output + error);
        Assert.Matches(@"\nIt keeps to version \d of the protocol in all 21 points", output);
        Assert.DoesNotContain("✗", output, StringComparison.Ordinal);
        Assert.Matches(@"(?m)^▲ names its operations: chain64, chain256(, chain261)?$", output);
    }

    [Theory]
    [InlineData("order", "✗ answers, and the same the second time: it gave no reply within 6 s; it replied with the id ")]
    [InlineData("rubbish", "✗ reads the rounds it is asked for, and no others: a reading has the place 0; places were 3 to ")]
    [InlineData("elsewhere", "✗ reads the rounds it is asked for, and no others: a reading is of round 1; round 0 was asked for")]
    [InlineData("deaf", "✗ leaves when it is told to: it does not end with exit code 0 within 2 s")]
    [InlineData("chatter", "✗ writes nothing but replies: ")]
    [InlineData("killed", "✗ opens and warms a sitting: it ended with exit code 137")]
    [InlineData("version", "✗ introduces itself: it ended with exit code 1")]
    public async Task A_worker_that_breaks_the_protocol_is_told_where(string fault, string told)
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "guest", "check", Path.Combine(Guests, "faulty.py"), "--build", $"env FAULT={fault} python3", "--value", "[1, 2]", "--patience",
                "6s");

        Assert.True(exitCode == ExitCode.Failed, output + error);
        Assert.Contains(told, output, StringComparison.Ordinal);
        Assert.Matches(@"\nIt fails \d+ of \d+ points", output);
    }

    [Theory]
    [InlineData("there is no program ./missing; name one by its path from ", "--", "./missing", "--bright")]
    [InlineData("--value {x is no JSON (", "chain.py", "--value", "{x")]
    [InlineData("there is no gcc-99 on this machine; on Debian and Ubuntu apt-get install gcc-99 brings it.", "chain.c", "--build",
        "gcc-99 -O2")]
    public async Task What_cannot_be_looked_at_is_told_in_a_sentence(string told, params string[] arguments)
    {
        string[] asked = [.. arguments.Select(argument => argument.StartsWith("chain.", StringComparison.Ordinal)
            ? Path.Combine(Guests, argument) : argument)];

        var (exitCode, output, error) = await ToolHere.RunAsync(["guest", "check", .. asked]);

        Assert.True(exitCode is ExitCode.WrongUse or ExitCode.CouldNotRun, output + error);
        Assert.Contains(told, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_guest_whose_answer_is_another_is_not_timed_and_the_others_are()
    {
        var (exitCode, output, error, rows) = await MeasureAsync("sound,wrong,nan,huge,text,throws,version,chatter,forks", "--within",
            "15s");

        Assert.True(exitCode == ExitCode.Failed, output + error);
        Assert.Equal(["sound", "chatter", "forks"], rows.Where(row => row.Value == "timed").Select(row => row.Key));
        Assert.All((string[])["wrong", "nan", "huge", "text"], fault => Assert.Equal("disagrees", rows[fault]));
        Assert.Contains("✗ guest, env FAULT=wrong python3: answers -1 where \"here\" answers 36", output, StringComparison.Ordinal);
        Assert.Contains("answers \"NaN\", which cannot be read as Int64; give .Guest(…) a read that can", output,
            StringComparison.Ordinal);
        Assert.Contains("threw ValueError: the gauge is dry", output, StringComparison.Ordinal);
        Assert.Matches(@"FAULT=version python3 · 8 levels: · not built", output);
        Assert.Contains("this guest needs Python 3.99", output, StringComparison.Ordinal);
        Assert.Contains("caveat left-processes: ", output, StringComparison.Ordinal);
        Assert.Matches(@"(?m)^add up levels · here · baseline(, take)? · 8 levels: \S+ ns", output);
    }

    [Fact]
    public async Task A_guest_that_hangs_dies_or_answers_what_was_not_asked_costs_its_own_row_only()
    {
        var (exitCode, output, error, rows) = await MeasureAsync("sound,never,late,order,much,killed,leaves,stops,rubbish,elsewhere");

        Assert.True(exitCode == ExitCode.Failed, output + error);
        Assert.Equal(["sound"], rows.Where(row => row.Value == "timed").Select(row => row.Key));
        Assert.All((string[])["never", "late", "order", "stops"], fault => Assert.Equal("hung", rows[fault]));
        Assert.All((string[])["killed", "leaves"], fault => Assert.Equal("died", rows[fault]));
        Assert.Contains("FAULT=much python3: answered \"check\" with more than 64 MiB on one line", output, StringComparison.Ordinal);
        Assert.Contains("found String among them", output, StringComparison.Ordinal);
        Assert.Contains("FAULT=elsewhere python3: answered \"read\" with something else than was asked", output, StringComparison.Ordinal);
        Assert.Matches(@"(?m)^add up levels · here · baseline(, take)? · 8 levels: \S+ ns", output);
    }

    [Fact]
    public async Task What_a_machine_lacks_is_told_row_by_row_and_a_large_input_comes_by_a_file()
    {
        var saved = Path.Combine(Path.GetTempPath(), $"tachyscope-{Guid.NewGuid():N}.json");
        static string[] Inputs() => Directory.GetFiles(Path.GetTempPath(), "tachyscope-input-*.json");
        var there = Inputs();
        try
        {
            var (exitCode, output, error) = await ToolProcess.RunAsync(
                [ToolProcess.Tool, "run", ToolProcess.Guests, "--plain", "--within", "6s", "--out", saved], "GUESTS=large");

            Assert.True(exitCode == ExitCode.CouldNotRun, output + error);
            Assert.Contains("it has no operation thrice; it has add, twice", output, StringComparison.Ordinal);
            Assert.Contains("there is no gcc-99 on this machine; on Debian and Ubuntu apt-get install gcc-99 brings it", output,
                StringComparison.Ordinal);
            Assert.Contains("there is no sources/missing.c in ", output, StringComparison.Ordinal);
            Assert.Contains("there is no program ./missing", output, StringComparison.Ordinal);
            Assert.Matches(@"in Python · 100,000 levels: [^✗·]", output);
            Assert.Matches(@"on another operation · 100,000 levels: [^✗·]", output);
            var run = RunFile.Read(saved);
            var told = run.Studies[0].Study.Variants[1].Guest!;
            Assert.Equal("Python", told.Language);
            Assert.Matches("^(CPython|PyPy) 3", told.Version!);
            Assert.False(told.IsAllocationTold);
            var cells = run.Studies[0].Sittings[0].Cells;
            Assert.All(cells.Where(cell => cell.Guest is not null), cell
                => Assert.NotEqual(0, cell.Worker - cells.First(own => own.Guest is null).Worker));
            // Others may have some for a while.
            await ScriptedToolTests.Until(() => Inputs().All(there.Contains));
        }
        finally
        {
            File.Delete(saved);
        }
    }

    [Fact]
    public async Task What_a_study_asks_of_guests_that_they_cannot_do_is_told_before_anything_runs()
    {
        var (exitCode, output, error) = await ToolProcess.RunAsync([ToolProcess.Tool, "run", ToolProcess.Guests], "GUESTS=mistakes");

        Assert.True(exitCode == ExitCode.WrongUse, output + error);
        Assert.Contains("its variants change their input, and a guest gets one for all its calls", error, StringComparison.Ordinal);
        Assert.Contains("it calls guests from several threads; leave out .Threads(…) or .Guest(…).", error, StringComparison.Ordinal);
        Assert.Contains("its variants answer nothing that a guest's answer could be compared with", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Code_shows_the_loop_that_a_compiler_made_of_a_guest()
    {
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "code", "sums*", "C, cc -O2", "in Python", "--project", ToolProcess.Guests, "--plain"], "GUESTS=native");

        Assert.True(exitCode == ExitCode.Fine, output + error);
        Assert.SkipWhen(output.Contains("install libcjson-dev", StringComparison.Ordinal) || output
            .Contains("binutils", StringComparison.Ordinal)
            || output.Contains("there is no cc ", StringComparison.Ordinal), output);
        Assert.Matches(@"C, cc -O2: instructions \d{2,}, bytes of code \d+", output);
        Assert.Contains("imul", output, StringComparison.Ordinal);
        Assert.Contains("in Python: Python makes its code when it runs, or is no program of its own", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_study_without_any_code_of_ours_is_measured_from_its_file()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope study-").FullName;
        try
        {
            File.Copy(Path.Combine(Guests, "faulty.py"), Path.Combine(folder, "add.py"));
            await File.WriteAllTextAsync(Path.Combine(folder, "study.json"), """
                { "studies": [{ "name": "add up", "inputs": [{ "label": "three", "value": [1, 2, 3] }],
                  "guests": [
                    { "name": "add", "language": "Python", "source": "add.py" },
                    { "name": "twice", "language": "Python", "source": "add.py", "operation": "twice" } ] },
                  { "name": "say", "inputs": [{ "label": "a word", "value": "lamp" }],
                  "guests": [{ "name": "cat", "runs": ["cat"] }, { "name": "echo", "runs": ["echo lamp", "echo buoy"] }] }] }
                """);

            var (exitCode, output, error) = await ToolHere.RunAsync("run", folder, "--plain", "--within", "8s");

            Assert.True(exitCode == ExitCode.Failed, output + error);
            Assert.Matches(@"(?m)^add up · add · baseline(, take)? · three: \S+ [nµ]s", output);
            Assert.Contains("twice: answers 12 where \"add\" answers 6", output, StringComparison.Ordinal);
            Assert.Matches(@"(?m)^say · cat · baseline(, take)? · a word: \S+ [µm]s", output);
            Assert.Contains("answers \"buoy\" where \"cat\" answers \"lamp\"", output, StringComparison.Ordinal);
            Assert.Matches("(?m)^guests x64|^guests arm64", output);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public async Task A_guest_counts_as_built_until_nothing_of_it_changes()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope guest-").FullName;
        try
        {
            File.Copy(Path.Combine(Guests, "faulty.py"), Path.Combine(folder, "add.py"));
            Assert.Equal(1, await BuiltAsync());
            Assert.Equal(0, await BuiltAsync());
            await File.AppendAllTextAsync(Path.Combine(folder, "add.py"), "\n# A lamp more.\n");
            Assert.Equal(1, await BuiltAsync());
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }

        async Task<int> BuiltAsync()
        {
            using var workshop = new GuestWorkshop(Path.Combine(folder, "cache"), folder);
            var guest = new GuestDescription { Language = "Python", Source = "add.py", Build = "python3" };
            Assert.Null((await workshop.MakeAsync(guest, CancellationToken.None)).Problem);
            return workshop.NewlyBuilt;
        }
    }

    // What became of each row, by the fault that it has.
    private static async Task<(int ExitCode, string Output, string Error, Dictionary<string, string> Rows)> MeasureAsync(
        string faults, params string[] options)
    {
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Guests, "--plain", "--patience", "5s", .. options], $"GUESTS={faults}");
        var rows = output.Split('\n').Where(line => line.Contains(" · guest, env FAULT=", StringComparison.Ordinal)
            && line.Contains("8 levels: ", StringComparison.Ordinal))
            .ToDictionary(line => line.Split("FAULT=")[1].Split(' ')[0], line
                => line.Split("8 levels: ")[1] is var figure && figure.StartsWith('✗')
                ? figure[2..] : figure.StartsWith('·') ? "not built" : "timed");
        return (exitCode, output, error, rows);
    }
}
