using Spectre.Console;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Overviews;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows what a caveat means, and where it was raised.</summary>
public static class CaveatView
{
    private static readonly Style Strong = new(decoration: Decoration.Bold);
    private static readonly Style Dim = new(decoration: Decoration.Dim);

    /// <summary>Writes what it means and what to do.</summary>
    /// <param name="page">The caveat.</param>
    /// <param name="console">Where to.</param>
    public static void Write(CaveatPage page, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(page);
        ArgumentNullException.ThrowIfNull(console);
        Line(console, (page.Name, Strong), "");
        Line(console, ("raised when", Dim), $"{page.When}.");
        Line(console, ("way out", Dim), $"{page.WayOut}.");
    }

    /// <summary>Writes where it was raised in a run, with the evidence.</summary>
    /// <param name="found">What was found of the run's studies.</param>
    /// <param name="name">Its name.</param>
    /// <param name="console">Where to.</param>
    public static void WriteEvidence(IReadOnlyList<StudyFindings> found, string name, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(found);
        ArgumentNullException.ThrowIfNull(console);
        var raised = found.SelectMany(findings => findings.Caveats.Where(caveat => caveat.Name == name)
            .Select(caveat => (findings.Study.Name, Caveat: caveat))).ToList();
        if (raised.Count == 0)
        {
            Line(console, ("in this run", Dim), "it was not raised.");
        }

        foreach (var (study, caveat) in raised)
        {
            Line(console, (study, Strong),
                $"{(caveat.Subject is null ? "" : $"{caveat.Subject}: ")}{caveat.Evidence}. Way out: {caveat.WayOut}.");
        }
    }

    private static void Line(IAnsiConsole console, (string, Style) label, string text)
    {
        console.Write(WrappedText.Set(console.Profile.Width, 0, [label], text, Style.Plain));
        console.WriteLine();
    }
}
