using Tachyscope.Analysis.Histories;
using Tachyscope.Exports.Charts;
using Tachyscope.Reports.Histories;
using static Tachyscope.Exports.Pages.Markup;

namespace Tachyscope.Exports.Pages;

/// <summary>Writes how studies went over their history as one page that holds all it needs.</summary>
internal static class TrendPage
{
    private const int StudiesNamed = 3;

    public static void Write(IReadOnlyList<StudyTrend> trends, Stream stream)
    {
        var frame = new PageFrame();
        var names = string.Join(", ", trends.Take(StudiesNamed).Select(trend => trend.Study));
        var last = trends.Select(trend => trend.Runs[^1]).MaxBy(run => run.Started)!;
        frame.Begin($"Over time: {names}{(trends.Count > StudiesNamed ? " and more" : "")}",
            $"up to {RunWords.When(last)} UTC · {last.Machine} · {last.Runtime}");
        for (var index = 0; index < trends.Count; index++)
        {
            Write(frame, trends[index], index);
        }

        frame.Line("<section aria-labelledby=\"how\"><h2 id=\"how\">How to read it</h2><p>Each line is a cell, as a multiple of what "
            + "it took");
        frame.Line("in its first runs. A change is a step that stands out of what runs of the same code differ by; it lies between the "
            + "runs");
        frame.Line("named, and its factor has the reach of its interval. A slow slope is told as one and not as "
            + "steps.</p></section></main>");
        frame.End();
        frame.WriteTo(stream);
    }

    private static void Write(PageFrame frame, StudyTrend trend, int index)
    {
        var report = TrendReporter.Of(trend, areAllShown: true, aside: 0);
        frame.Line($"<section aria-labelledby=\"s{index}\"><h2 id=\"s{index}\">{Html(trend.Study)}</h2>");
        frame.Line($"<p class=\"faint\">{Html(string.Join(" · ", report.Heads))}</p>");
        foreach (var part in report.Parts)
        {
            foreach (var (tone, text) in part.Sentences)
            {
                frame.Line($"<p class=\"{Class(tone)}\">{Html(text)}</p>");
            }

            frame.Draw(TrendChart.Of([trend]), isOpen: true);
            if (part.Table is { } table)
            {
                frame.Line($"<details open><summary>Every cell</summary>{Markup.Of(table, isWords: true)}</details>");
            }
        }

        if (report.Notes.Count > 0)
        {
            frame.Line($"<ul>{string.Concat(report.Notes.Select(note => $"<li>{Html(note)}</li>"))}</ul>");
        }

        frame.Line("</section>");
    }
}
