using System.CommandLine.Help;
using System.Text.RegularExpressions;
using Tachyscope.Cli.Options;

namespace Tachyscope.Cli.Tests;

public sealed class CommandLineTests
{
    [Theory]
    [InlineData("--within", "soon",
        "\"soon\" is no span of time between 1ms and 24h; write a number and a unit, such as 500ms, 20s or 5m.")]
    [InlineData("--within", "-5s", "\"-5s\" is no span of time")]
    [InlineData("--within", "0s", "\"0s\" is no span of time")]
    [InlineData("--patience", "48h", "\"48h\" is no span of time")]
    [InlineData("--margin", "0", "\"0\" is no percentage above 0 and up to 50; write one such as 0.5%.")]
    [InlineData("--precision", "tight", "\"tight\" is no percentage")]
    [InlineData("--seed", "1.5", "\"1.5\" is no whole number")]
    [InlineData("--repeat", "0", "\"0\" is no whole number from 1 to 20; write how often to compare, such as 3.")]
    [InlineData("--against", "twin", "--against twin: allowed are baseline, previous, each.")]
    [InlineData("--sort", "size", "--sort size: allowed are defined, time, bytes, name.")]
    [InlineData("--columns", "time,fog", "--columns: \"fog\" is no column; there are place, time, interval, factor, saved,")]
    [InlineData("--collections", "none", "--collections none: allowed are free, held, both.")]
    [InlineData("--out", "run.txt", "--out run.txt: \".txt\" is no ending of a file that can be written; there are .json, ")]
    public async Task A_value_that_cannot_be_is_refused_with_what_can(string option, string value, string message)
    {
        var (exitCode, _, error) = await InvokeAsync("run", ".", option, value);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(message, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task All_wrong_values_are_told_together()
    {
        var (_, _, error) = await InvokeAsync("run", "--within", "soon", "--seed", "x", "--margin", "y");

        Assert.Equal(4, error.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length);
        Assert.Contains("tachyscope run --help lists what is allowed", error, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("\"sing\" is no command; the commands are try, new, run, duel, report, caveat, code, compare, trend, gate, pinpoint, "
        + "history, plan, merge, survey, guest, "
        + "demo, completion, and ", "sing")]
    [InlineData("\"rnu\" is no command; run is the nearest; the commands are try, new, run,", "rnu")]
    [InlineData("\"--wihtin\" is no option of run; --within is the nearest.", "run", ".", "--wihtin", "5s")]
    [InlineData("\"--sing\" is no command", "--sing")]
    [InlineData("a command is missing; the commands are try, new, run, duel, report, caveat, code, compare, trend, gate, pinpoint, "
        + "history, plan, merge, survey, guest, demo, completion")]
    public async Task A_command_that_is_none_is_wrong_use(string message, params string[] arguments)
    {
        var (exitCode, _, error) = await InvokeAsync(arguments);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(message, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_shell_completes_commands_options_words_and_studies()
    {
        Assert.Contains("suggest:", (await InvokeAsync("completion", "fish")).Output, StringComparison.Ordinal);
        Assert.Contains("SHELL tcsh: allowed are bash, zsh, fish.", (await InvokeAsync("completion", "tcsh")).Error,
            StringComparison.Ordinal);
        Assert.Equal(["run"], await SuggestedAsync("tachyscope ru"));
        Assert.Contains("--within", await SuggestedAsync("tachyscope try --"));
        Assert.Equal(["baseline", "each", "previous"], await SuggestedAsync("tachyscope run --against "));
        Assert.Contains("net8.0", await SuggestedAsync("tachyscope run --target net"));

        var folder = Directory.CreateTempSubdirectory("tachyscope names ").FullName;
        KnownStudies.Keep(folder, "lamps", ["fog", "buoys"], areAll: true);
        KnownStudies.Keep(folder, "lamps", ["beacons"], areAll: false);
        Assert.Equal(["fog", "buoys", "beacons"], KnownStudies.Of(folder, "lamps"));
        Assert.Empty(KnownStudies.Of(folder, "others"));
        Directory.Delete(folder, recursive: true);

        static async Task<string[]> SuggestedAsync(string line)
            => (await InvokeAsync($"[suggest:{line.Length}]", line)).Output.Split('\n',
                StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
    }

    [Theory]
    [InlineData("both sides are now; name two that differ", "now", "now")]
    [InlineData("net8.0|net9.0 is 2 targets, and a duel has one on each side", "net8.0|net9.0", "now")]
    [InlineData("--study now is laid over revisions, and neither side is one; leave it out.", "now", "net8.0", ".", "--study", "now")]
    [InlineData("--target fog=1: \"fog=1\" is no part of a target; parts are runtime=net8.0,", "fog=1", "now")]
    public async Task A_duel_that_cannot_be_is_refused_with_what_can(string message, params string[] sides)
    {
        var (exitCode, _, error) = await InvokeAsync(["duel", .. sides]);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(message, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Help_lists_commands_and_options()
    {
        var (exitCode, root, _) = await InvokeAsync("--help");
        var (_, run, _) = await InvokeAsync("run", "--help");

        Assert.Equal(ExitCode.Fine, exitCode);
        Assert.All((string[])["try", "new", "run", "duel", "demo", "report", "caveat", "survey"],
            word => Assert.Contains(word, root, StringComparison.Ordinal));
        Assert.All(
            (string[])["PROJECT", "--only", "--target", "--rebuild", "--within", "--precision", "--margin", "--seed", "--apart",
                "--repeat", "--overlapped", "--speeds", "--cold", "--called", "--collections", "--explain", "--against", "--sort",
                    "--columns", "--show", "--patience",
                "--insist", "--out", "--plain"],
            word => Assert.Contains(word, run, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Help_tells_of_every_command_and_option_once_and_of_one_that_lacks_an_argument()
    {
        var root = Tool.Root(new Surroundings { Output = TextWriter.Null, Error = TextWriter.Null, Cache = "" });
        var options = root.Subcommands.SelectMany(command => command.Options).Where(option => option is not HelpOption)
            .Select(option => option.Name).Distinct().Order(StringComparer.Ordinal);

        Assert.Equal(root.Subcommands.Select(command => command.Name).Order(StringComparer.Ordinal),
            HelpGroups.Commands.SelectMany(group => group.Names).Order(StringComparer.Ordinal));
        Assert.Equal(options, HelpGroups.Options.SelectMany(group => group.Names).Order(StringComparer.Ordinal));
        var (exitCode, duel, error) = await InvokeAsync("duel", "--help");
        Assert.Equal((ExitCode.Fine, ""), (exitCode, error));
        Assert.DoesNotContain(" \n", duel.ReplaceLineEndings("\n"), StringComparison.Ordinal);
        Assert.Contains("tachyscope duel OLD NEW [PROJECT] [OPTIONS]", duel, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_command_has_examples_that_are_right()
    {
        var root = Tool.Root(new Surroundings { Output = TextWriter.Null, Error = TextWriter.Null, Cache = "" });

        Assert.Equal(root.Subcommands.Select(command => command.Name).Order(), Examples.Of.Keys.Order());
        Assert.All(
            Examples.Of.Values.SelectMany(examples => examples).Where(example => example.Line.StartsWith("tachyscope",
                StringComparison.Ordinal)),
            example => Assert.True(root.Parse(Words(example.Line)).Errors.All(error => error.Message.Contains("does not exist",
                StringComparison.Ordinal)), example.Line));
        Assert.Contains("which of two lines is faster", (await InvokeAsync("try", "--help")).Output, StringComparison.Ordinal);

        // As a shell takes them apart.
        static string[] Words(string line)
            => [.. Regex.Matches(line["tachyscope ".Length..], "'([^']*)'|(\\S+)").Select(word => word.Groups[1].Success
            ? word.Groups[1].Value : word.Value)];
    }

    [Fact]
    public async Task A_survey_tells_of_machine_and_moment()
    {
        var (exitCode, output, _) = await InvokeAsync("survey", "--plain");

        Assert.Equal(ExitCode.Fine, exitCode);
        Assert.All(
            (string[])["processor", "caches", "vectors", "clock", "frequency policy", "load", "taken by the host", "slowed",
                "a second of metronome"],
            word => Assert.Contains(word, output, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Limits_are_measured_once_and_shown_from_then_on()
    {
        var cache = Directory.CreateTempSubdirectory("tachyscope").FullName;
        try
        {
            var (before, measured, after) = (await SurveyAsync(cache), await SurveyAsync(cache, "--limits"), await SurveyAsync(cache));

            Assert.Contains("not measured yet; survey --limits does", before, StringComparison.Ordinal);
            Assert.Matches(@"reads at most .*memory \d+(\.\d+)? [MGT]B/s", measured);
            Assert.Matches(@"computes at most +\d+(\.\d+)? [MG] additions", measured);
            Assert.Contains(Line(measured, "reads at most"), after, StringComparison.Ordinal);
            Assert.DoesNotContain("not measured yet", after, StringComparison.Ordinal);
        }
        finally
        {
            Directory.Delete(cache, recursive: true);
        }
    }

    [Theory]
    [InlineData("--collections sometimes: allowed are free, held, both.", "run", ".", "--collections", "sometimes")]
    [InlineData("--explain fog: allowed are warmup, allocation, counters, code, speeds.", "run", ".", "--explain", "warmup", "--explain",
        "fog")]
    public async Task A_word_that_is_none_of_those_allowed_is_told(string message, params string[] arguments)
    {
        var (exitCode, _, error) = await InvokeAsync(arguments);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(message, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_folder_that_is_not_there_is_wrong_use_before_anything_is_built()
    {
        var (exitCode, _, error) = await InvokeAsync("run", ".", "--out", "/no/such/folder/run.json");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("there is no folder /no/such/folder; make it first or name another.", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_project_is_not_taken_for_the_label_of_a_run()
    {
        var lamps = Path.GetDirectoryName(ToolProcess.Tool)!;

        var (exitCode, _, error) = await InvokeAsync("run", "--save", lamps);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains($"--save {lamps}: what follows is the run's label, and {lamps} is there; write it before --save", error,
            StringComparison.Ordinal);
    }

    private static string Line(string text, string begin)
        => text.Split('\n').First(line => line.TrimStart().StartsWith(begin, StringComparison.Ordinal));

    private static async Task<string> SurveyAsync(string cache, params string[] options)
    {
        var output = new StringWriter();
        Assert.Equal(ExitCode.Fine,
            await Tool.InvokeAsync(["survey", "--plain", .. options], new Surroundings { Output = output, Error = output, Cache = cache }));
        return output.ToString();
    }

    private static async Task<(int ExitCode, string Output, string Error)> InvokeAsync(params string[] arguments)
    {
        var (output, error) = (new StringWriter(), new StringWriter());
        var exitCode = await Tool.InvokeAsync(arguments, new Surroundings { Output = output, Error = error, Cache = Path.GetTempPath() });
        return (exitCode, output.ToString(), error.ToString());
    }
}
