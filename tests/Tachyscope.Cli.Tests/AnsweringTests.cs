using System.Text.RegularExpressions;

namespace Tachyscope.Cli.Tests;

/// <summary>What a run, and a saved one, answers; measured once, asked many times.</summary>
public sealed class AnsweringTests : IClassFixture<AnsweringTests.MeasuredOnce>
{
    private readonly MeasuredOnce _measured;

    public AnsweringTests(MeasuredOnce measured) => _measured = measured;

    [Fact]
    public async Task A_saved_run_shows_what_was_shown_when_it_was_measured()
    {
        var (exitCode, output, error) = await AskAsync("report", _measured.Saved, "--show", "all");

        Assert.True(exitCode == ExitCode.Failed, error);
        Assert.Equal(_measured.Output[.._measured.Output.LastIndexOf("saved to", StringComparison.Ordinal)], output);
    }

    [Fact]
    public void A_run_that_breaks_a_limit_says_so_and_ends_with_1()
    {
        Assert.Equal(ExitCode.Failed, _measured.ExitCode);
        Assert.Matches("Copied breaks its limit of bytes on every input: 560 B of the 0 B allowed\\.", _measured.Output);
        Assert.Matches(@"copied, 64 levels +bytes +0 B +560 B +beyond +NO", _measured.Output);
        Assert.Matches(@", and \d+ that use less +time +1\.00 s .* % +yes", _measured.Output);
    }

    [Fact]
    public void Every_question_is_answered_in_words_and_tables()
        => Assert.All(
            (string[])
            [
                @"(Take kept \(once prepared\)|Kept \(once prepared\) is ahead|take kept)", // which one, at every size
                @"growth over levels, time per call", // the chart
                @"growth over levels +exponent +grows as",
                @"a  copied +\d\.\d+ ± ",
                @"stepped, 4,096 levels: over the best +block 32 +block 64", // two dials as a grid
                @"uses after which preparing has paid +64 levels",
                @"kept over copied +1 +1 +1",
                @"where the difference lies",
                @"copied once, 4,096 levels: copy ",
                @"at 100 calls a second of each of 8 +saved a day, ",
                @"collector kept out", // both ways were asked for
                @"\d+ sittings with it free, \d+ with the collector kept out",
            ],
            pattern => Assert.Matches(pattern, _measured.Output));

    [Fact]
    public void A_line_of_plain_text_is_a_whole_statement()
        => Assert.Matches(@"(?m)^questions · kept: use · .*64 levels: ▲ faster ÷ .* · 512 levels: ▲ faster ÷ .* · 4,096 levels: ▲ faster ÷ ", _measured.Output);

    [Fact]
    public async Task A_chain_every_pair_an_order_and_chosen_columns_can_be_asked_for()
    {
        var (_, chain, _) = await AskAsync("report", _measured.Saved, "--against", "previous", "--show", "inputs,words");
        var (_, each, _) = await AskAsync("report", _measured.Saved, "--against", "each");
        var (_, chosen, _) = await AskAsync("report", _measured.Saved, "--sort", "time", "--columns", "bytes,verdict,cold-call");

        Assert.Contains("time of the one before", chain, StringComparison.Ordinal);
        Assert.Matches(@"all of it together · .*[÷×]", chain);
        Assert.Matches(@"From first to last on 4,096 levels, kept \(once prepared\) is ", chain);
        Assert.Matches(@"the column's time +copied +copied once +stepped, step 1, block 32", each);
        Assert.Matches(@"(?m)^  variant +bytes/call +verdict +cold call +input\r?$", chosen);
        Assert.Matches(@"variant.*\n  kept: use", chosen);
    }

    [Fact]
    public async Task What_a_difference_is_worth_comes_from_the_study_or_from_options()
    {
        var (declared, own, _) = await AskAsync("report", _measured.Saved, "--show", "payoff,inputs");
        var (asked, other, _) = await AskAsync("report", _measured.Saved, "--calls", "3k/min", "--callers", "2", "--price", "0.05");

        Assert.Equal((ExitCode.Failed, ExitCode.Failed), (declared, asked));
        Assert.Contains("at 100 calls a second of each of 8", own, StringComparison.Ordinal);
        Assert.Matches(@"kept: use, 4,096 levels +\d.* \(.* to .*\).* calls \(.* to .*\), .* a second", own);
        Assert.Contains("at 50 calls a second of each of 2: the 3 largest of ", other, StringComparison.Ordinal);
        Assert.Contains("worth a year", other, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_run_measured_last_is_kept_and_a_caveat_is_explained_on_it()
    {
        using var project = new ScriptedProject(ScriptedStudies.Sound() with { Rows = [new(), new() { Nanoseconds = [50], Drift = 0.8 }] });
        var (_, _, nothing) = await project.AskAsync(["report"]);
        var (_, measured, _) = await project.RunAsync();

        var (exitCode, shown, _) = await project.AskAsync(["report"]);
        var (explained, caveat, error) = await project.AskAsync(["caveat", "drifts"]);

        Assert.Contains("nothing was measured here yet; measure something, or name a file that was saved with --out.", nothing,
            StringComparison.Ordinal);
        Assert.Equal((ExitCode.Fine, measured), (exitCode, shown));
        Assert.True(explained == ExitCode.Fine, error);
        Assert.Matches(@"^drifts ?\nraised when .*\nway out .*\n(.*\n)*lamps quick, a lamp: its time grows by .* Way out: ", caveat);
    }

    public static TheoryData<string[], int, string> Wrong => new()
    {
        { ["report", "no such run.json"], ExitCode.WrongUse, "no such run.json" },
        { ["report", "."], ExitCode.WrongUse, ". cannot be read: it is a folder; name a file that was saved with --out." },
        { ["report", "SAVED", "--only", "fog*"], ExitCode.WrongUse, "--only fog*: no study matches; there are questions." },
        { ["report", "SAVED", "--columns", "time,fog"], ExitCode.WrongUse,
            "--columns: \"fog\" is no column; there are place, time, interval, factor," },
        { ["report", "SAVED", "--show", "growth,fog"], ExitCode.WrongUse,
            "--show: \"fog\" is nothing that can be shown; there are inputs, words, growth," },
        { ["caveat", "near-resdue"], ExitCode.WrongUse,
            "\"near-resdue\" is no caveat; near-residue is the nearest; there are unoptimised-build, " },
        { ["caveat", "coarse", "no such run.json"], ExitCode.WrongUse, "no such run.json" },
        { ["report", "ALTERED"], ExitCode.CouldNotRun, "$.version: 8 is newer than 3, which this tool reads; take a newer tool." },
        { ["report", "SILENT", "--price", "1"], ExitCode.WrongUse,
            "\"questions\" does not say how often it is called, so that --callers and --price say nothing of it; add --calls, such as "
                + "--calls 2000/s, or choose others with --only." },
        { ["report", "SAVED", "--calls", "often"], ExitCode.WrongUse,
            "\"often\" is no number of calls in a time; write one such as 2000/s, 40k/min, 3M/h or 500/day." },
        { ["report", "SAVED", "--calls", "5/s", "--callers", "0"], ExitCode.WrongUse,
            "\"0\" is no whole number above 0; write one such as 12." },
        { ["report", "SAVED", "--price", "-1"], ExitCode.WrongUse, "\"-1\" is no number above 0; write one such as 0.04." },
    };

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task What_cannot_be_is_told_in_a_sentence_with_the_way_out(string[] arguments, int exitCode, string message)
    {
        var found = await AskAsync([.. arguments.Select(argument => argument switch
        {
            "SAVED" => _measured.Saved,
            "ALTERED" => _measured.Altered("\"version\":3", "\"version\":8"),
            "SILENT" => _measured.Altered("\"rate\":{", "\"fog\":{"),
            _ => argument,
        })]);

        Assert.Equal(exitCode, found.ExitCode);
        Assert.Contains(message, found.Error, StringComparison.Ordinal);
        Assert.Empty(found.Output);
    }

    [Fact]
    public async Task Readings_that_cannot_be_are_left_out_and_told()
    {
        var lines = await File.ReadAllLinesAsync(_measured.Saved);
        lines[50] = Regex.Replace(lines[50], @"^\[\d+,\d+,\d+,", "[0,0,9999,");
        var path = Path.Combine(_measured.Folder, "damaged.json");
        await File.WriteAllLinesAsync(path, lines);

        var (_, output, _) = await AskAsync("report", path);

        Assert.Matches(@"caveat impossible-readings: 1 of .* readings cannot be true and were left out; the first: sitting 1, reading \d+: cell 9999, where there are \d+", output);
    }

    private static async Task<(int ExitCode, string Output, string Error)> AskAsync(params string[] arguments)
    {
        var (output, error) = (new StringWriter(), new StringWriter());
        var exitCode = await Tool.InvokeAsync(arguments, new Surroundings { Output = output, Error = error, Cache = Path.GetTempPath() });
        return (exitCode, output.ToString(), error.ToString());
    }

    public sealed class MeasuredOnce : IAsyncLifetime
    {
        private readonly ScriptedProject _project = new(ScriptedStudies.Questions);

        public string Folder => _project.Folder;

        public string Saved => _project.Saved;

        public int ExitCode { get; private set; }

        public string Output { get; private set; } = "";

        public string Altered(string found, string altered)
        {
            var path = Path.Combine(Folder, $"{Guid.NewGuid()}.json");
            File.WriteAllText(path, File.ReadAllText(Saved).Replace(found, altered, StringComparison.Ordinal));
            return path;
        }

        public async ValueTask InitializeAsync()
            => (ExitCode, Output, _) = await _project.RunAsync("--collections", "both", "--out", Saved, "--show", "all");

        public ValueTask DisposeAsync()
        {
            _project.Dispose();
            return ValueTask.CompletedTask;
        }
    }
}
