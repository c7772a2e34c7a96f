using Tachyscope.Reports.Codes;
using static Tachyscope.Exports.Pages.Markup;

namespace Tachyscope.Exports.Pages;

/// <summary>Writes what was made of a study's variants as one page that holds all it needs, each piece of code folded.</summary>
internal static class CodePage
{
    public static void Write(CodeReport report, Stream stream)
    {
        var frame = new PageFrame();
        frame.Begin(report.Title, string.Join(" · ", report.Notes));
        frame.Line("<section aria-labelledby=\"told\"><h2 id=\"told\">What is told</h2>");
        WriteTold(report, frame);
        frame.Line("</section><section aria-labelledby=\"code\"><h2 id=\"code\">The code</h2>");
        WriteTexts(report, frame);
        frame.Line("</section></main>");
        frame.End();
        frame.WriteTo(stream);
    }

    /// <summary>The same within another page, folded.</summary>
    public static void WriteFolded(CodeReport report, PageFrame frame)
    {
        frame.Line("<details><summary>What the compilers made of it</summary>");
        WriteTold(report, frame);
        WriteTexts(report, frame);
        frame.Line($"<p class=\"faint\">{Html(string.Join(" · ", report.Notes))}</p></details>");
    }

    private static void WriteTold(CodeReport report, PageFrame frame)
    {
        foreach (var (tone, text) in report.Sentences)
        {
            frame.Line($"<p class=\"{Class(tone)}\">{Html(text)}</p>");
        }

        if (report.Facts is { } facts)
        {
            frame.Line(Of(facts, isWords: false));
        }
    }

    private static void WriteTexts(CodeReport report, PageFrame frame)
    {
        foreach (var text in report.Texts)
        {
            frame.Line($"<details><summary>{Html(text.Title)}</summary>{Scrolled(Html(text.Title), Table(text))}</details>");
        }
    }

    private static string Table(CodeText text)
    {
        var head = text.Right is null ? "" : $"<thead><tr><th>{Html(text.Left)}</th><th></th><th>{Html(text.Right)}</th></tr></thead>";
        var rows = string.Concat(text.Rows.Select(row => Row(row, text.Right is not null)));
        return $"<table class=\"code\">{head}<tbody>{rows}</tbody></table>";
    }

    private static string Row(CodeRow row, bool isPair)
    {
        var (kind, sign) = row.Kind switch
        {
            CodeRowKind.Instrument => (" class=\"faint\"", "·"),
            CodeRowKind.Different => (" class=\"changed\"", row.Left is null ? "›" : row.Right is null ? "‹" : "≠"),
            _ => ("", ""),
        };
        return isPair ? $"<tr{kind}><td>{Html(row.Left ?? "")}</td><td>{sign}</td><td>{Html(row.Right ?? "")}</td></tr>"
            : $"<tr{kind}><td>{sign}</td><td>{Html(row.Left ?? "")}</td></tr>";
    }
}
