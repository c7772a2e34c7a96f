using Spectre.Console;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows the families of a run: their members side by side, and whether their order is the same.</summary>
public static class FamilyView
{
    /// <summary>Writes every family that has more than one member.</summary>
    /// <param name="studies">What was found of the run's studies.</param>
    /// <param name="console">Where to.</param>
    public static void Write(IReadOnlyList<StudyFindings> studies, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(studies);
        ArgumentNullException.ThrowIfNull(console);
        foreach (var table in FamilyReporter.Report(studies))
        {
            FigureView.Write(table, console);
        }

        foreach (var sentence in FamilyReporter.Conclude(studies))
        {
            console.Write(WrappedText.Set(console.Profile.Width, [], sentence, Style.Plain));
            console.WriteLine();
        }
    }
}
