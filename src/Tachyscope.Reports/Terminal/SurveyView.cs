using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Analysis.Machines;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Machines;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows what a machine is and how steady it is now.</summary>
public static class SurveyView
{
    private const int Width = 60;
    private const int Gap = 2;
    private const string Indent = "  ";

    /// <summary>Writes a survey.</summary>
    /// <param name="report">The survey.</param>
    /// <param name="console">Where to.</param>
    public static void Write(SurveyReport report, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(console);
        var labels = report.Machine.Concat(report.Now).Max(line => line.What.Length) + Gap;
        console.Write(new Rows(Section("this machine", report.Machine, labels)));
        console.Write(new Rows(Section("now", report.Now, labels)));
        var column = Quantity.Time(report.Heard.TotalNanoseconds / Math.Max(1, report.Trace.Count));
        console.MarkupLine($"[bold]a second of metronome[/] [dim]every column {column}, the height its median time over the fastest[/]");
        console.MarkupLine($"{Indent}{Trace(report)}");
        console.MarkupLine($"{Indent}{Judgement(report.Noise.Steadiness)} – {Markup.Escape(report.Advice)}");
        console.WriteLine();
    }

    private static IEnumerable<IRenderable> Section(string title, IReadOnlyList<SurveyLine> lines, int labels)
        => [
            new Text(title, new Style(decoration: Decoration.Bold)),
            .. lines.Select(line => new Paragraph()
                .Append($"{Indent}{line.What.PadRight(labels)}", new Style(decoration: Decoration.Dim))
                .Append(line.Value)),
            Text.Empty,
        ];

    private static string Judgement(Steadiness steadiness) => steadiness switch
    {
        Steadiness.Quiet => "[green]= quiet[/]",
        Steadiness.Uneasy => "[darkorange3]~ uneasy[/]",
        _ => "[red]! noisy[/]",
    };

    // Eight heights from the fastest column to half as slow again.
    private static string Trace(SurveyReport report)
    {
        const string Heights = "▁▂▃▄▅▆▇█";
        const double MostSlowing = 0.5;
        var fastest = report.Trace.Count == 0 ? 1 : report.Trace.Min();
        var columns = report.Trace.Take(Width).Select(time =>
            Heights[(int)Math.Clamp(Math.Round((time / fastest - 1) / MostSlowing * (Heights.Length - 1)), 0, Heights.Length - 1)]);
        return string.Concat(columns);
    }
}
