using System.Globalization;
using Spectre.Console;
using Tachyscope.Analysis.Machines;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Machines;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows what a machine is and how steady it is now.</summary>
public static class SurveyView
{
    private const int Width = 60;
    private const int Indent = 2;

    /// <summary>Writes a survey.</summary>
    /// <param name="report">The survey.</param>
    /// <param name="console">Where to.</param>
    public static void Write(SurveyReport report, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(console);
        console.MarkupLine("[bold]this machine[/]");
        console.Write(Grid(report.Machine));
        console.WriteLine();
        console.MarkupLine("[bold]now[/]");
        console.Write(Grid(report.Now));
        console.WriteLine();
        console.MarkupLine(string.Create(
            CultureInfo.InvariantCulture,
            $"[bold]a second of metronome[/] [dim]every column {Quantity.Time(report.Heard.TotalNanoseconds / Math.Max(1, report.Trace.Count))}, the height its median time over the fastest[/]"));
        console.Write(new Padder(new Text(Trace(report)), new Padding(Indent, 0, 0, 0)));
        console.Write(new Padder(new Markup($"{Judgement(report.Noise.Steadiness)} – {Markup.Escape(report.Advice)}"), new Padding(Indent, 0, 0, 0)));
        console.WriteLine();
    }

    private static Grid Grid(IReadOnlyList<SurveyLine> lines)
    {
        var grid = new Grid();
        grid.AddColumn(new GridColumn { Padding = new Padding(Indent, 0, 2, 0), NoWrap = true });
        grid.AddColumn(new GridColumn { Padding = new Padding(0, 0, 0, 0) });
        foreach (var line in lines)
        {
            grid.AddRow(new Text(line.What, new Style(decoration: Decoration.Dim)), new Text(line.Value));
        }

        return grid;
    }

    private static string Judgement(Steadiness steadiness) => steadiness switch
    {
        Steadiness.Quiet => "[green]= quiet[/]",
        Steadiness.Uneasy => "[yellow]~ uneasy[/]",
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
