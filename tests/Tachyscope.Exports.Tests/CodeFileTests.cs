using System.Text;
using Tachyscope.Reports.Codes;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Exports.Tests;

/// <summary>What the compilers made of variants, in files.</summary>
public sealed class CodeFileTests
{
    private static readonly CodeReport s_report = new()
    {
        Title = "smooth <levels> · its code",
        Sentences = [(Tone.Even, "scan and sweep are the same machine code")],
        Facts = new FigureTable { Title = "counted", Of = "counted", Headings = ["scan", "sweep"],
            Rows = [new FigureRow("instructions", ["12", "17"])] },
        Statements = ["smooth <levels> · scan: instructions 12", "smooth <levels> · sweep: instructions 17"],
        Texts =
        [
            new CodeText("Tides:<Scan>b__0():int", "scan", "sweep",
                [new CodeRow("ret", "ret", CodeRowKind.Plain), new CodeRow("inc      eax", null, CodeRowKind.Different)]),
            new CodeText("scan · the measured loop", "", null, [new CodeRow("dec      rbx", null, CodeRowKind.Instrument)]),
        ],
        Notes = ["counted in the code of the last tier"],
    };

    [Fact]
    public async Task A_page_holds_sentences_facts_and_each_piece_folded_and_nothing_of_a_name_is_obeyed()
    {
        var page = await WriteAsync("why.html");

        Assert.Contains("<h1>smooth &lt;levels&gt; ", page, StringComparison.Ordinal);
        Assert.Contains("scan and sweep are the same machine code", page, StringComparison.Ordinal);
        Assert.Contains("<details><summary>Tides:&lt;Scan&gt;b__0():int</summary>", page, StringComparison.Ordinal);
        Assert.Contains("<tr class=\"changed\"><td>inc      eax</td><td>‹</td><td></td></tr>", page, StringComparison.Ordinal);
        Assert.Contains("<tr class=\"faint\"><td>·</td><td>dec      rbx</td></tr>", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_text_is_what_a_pipe_gets()
    {
        var lines = (await WriteAsync("why.txt")).Split('\n');

        Assert.Contains("smooth <levels> · sweep: instructions 17", lines);
        Assert.Contains("‹ inc      eax", lines);
        Assert.Contains("· dec      rbx", lines);
    }

    [Fact]
    public void Another_ending_is_refused_with_those_there_are()
        => Assert.Equal("\".pdf\" is no ending of code that can be written; there are .html, .txt.", CodeFile.ProblemOf("why.pdf"));

    private static async Task<string> WriteAsync(string path)
    {
        using var stream = new MemoryStream();
        await CodeFile.WriteAsync(s_report, path, (_, write) => write(stream));
        return Encoding.UTF8.GetString(stream.ToArray());
    }
}
