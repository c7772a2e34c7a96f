using Spectre.Console;
using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Overviews;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows, at the end of a run, all its studies in one table and what holds for all of them.</summary>
public static class RunView
{
    private static readonly Style Dim = new(decoration: Decoration.Dim);

    /// <summary>Writes the families side by side, the table of all studies and the ground under them.</summary>
    /// <param name="run">The run.</param>
    /// <param name="found">What was found of its studies.</param>
    /// <param name="console">Where to.</param>
    /// <param name="isMoreTold">Whether to say what else can be shown.</param>
    public static void Write(Run run, IReadOnlyList<StudyOnTargets> found, IAnsiConsole console, bool isMoreTold)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(found);
        ArgumentNullException.ThrowIfNull(console);
        if (run.Targets.Count < 2)
        {
            FamilyView.Write([.. found.Select(study => study.Targets[0])], console);
        }

        if (RunReporter.Summary(found) is { } summary)
        {
            FigureView.Write(summary, console);
        }

        foreach (var line in RunReporter.Ground(run, found))
        {
            console.Write(WrappedText.Set(console.Profile.Width, 0, [], line, Dim));
            console.WriteLine();
        }

        if (isMoreTold && found.Count > 0)
        {
            var more = $"more with --show {string.Join(',', RunReporter.MoreToShow(found))}; what a caveat means: tachyscope caveat NAME";
            console.Write(WrappedText.Set(console.Profile.Width, 0, [], more, Dim));
            console.WriteLine();
        }
    }
}
