using System.Globalization;
using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Terminal;

/// <summary>The line that tells a watcher where a run stands.</summary>
public static class ProgressView
{
    private const int BarWidth = 24;

    /// <summary>The line.</summary>
    /// <param name="run">Where the run stands.</param>
    public static IRenderable Line(RunProgress run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var full = (int)Math.Round(run.ShareDone * BarWidth);
        var bar = new string('━', full);
        var rest = new string('─', BarWidth - full);
        var share = run.ShareDone.ToString("0 %", CultureInfo.InvariantCulture);
        var left = run.TimeLeft is { } time ? $"about {Quantity.Wait(time)} left" : "";
        return new Rows(
            new Markup($"[bold]{Markup.Escape(run.Study)}[/] · {Markup.Escape(string.Join(", ", run.Inputs))}").Overflow(Overflow.Ellipsis),
            new Markup($"[teal]{bar}[/][dim]{rest}[/] {share,5}  {Sitting(run)}{Word(run.Stage)}  [dim]{left}[/]"));
    }

    private static string Word(RunStage stage) => stage switch
    {
        RunStage.Checking => "comparing answers",
        RunStage.Warming => "warming up",
        RunStage.Diagnosing => "looking at single cells",
        _ => "reading",
    };

    private static string Sitting(RunProgress run) => run switch
    {
        { Sitting: 0 } => "",
        { SittingsPlanned: 0 } => string.Create(CultureInfo.InvariantCulture, $"sitting {run.Sitting}, "),
        _ => string.Create(CultureInfo.InvariantCulture, $"sitting {run.Sitting} of {run.SittingsPlanned}, "),
    };
}
