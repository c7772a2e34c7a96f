using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Studies;

/// <summary>Puts the studies of a family side by side, one column for each element type. Pure.</summary>
public static class FamilyReporter
{
    /// <summary>The families of a run that have more than one member: one table for each input.</summary>
    /// <param name="studies">What was found of the run's studies.</param>
    public static IReadOnlyList<FigureTable> Report(IReadOnlyList<StudyFindings> studies)
    {
        ArgumentNullException.ThrowIfNull(studies);
        return [.. Families(studies).SelectMany(family => Tables(family.Key, [.. family]))];
    }

    /// <summary>Where the order of a family's variants is not the same for every element type, one sentence each.</summary>
    /// <param name="studies">What was found of the run's studies.</param>
    public static IReadOnlyList<string> Conclude(IReadOnlyList<StudyFindings> studies)
    {
        ArgumentNullException.ThrowIfNull(studies);
        return [.. Families(studies)
            .Select(family => FlipFinder.Find([.. family]) is { } flip
                ? $"{family.Key}: {FlipSentences.Text(flip, family.First().Study)}."
                : null).OfType<string>()];
    }

    private static IEnumerable<IGrouping<string, StudyFindings>> Families(IReadOnlyList<StudyFindings> studies)
        => studies.Where(study => study.Study.Family is not null && study.Inputs.Count > 0)
            .GroupBy(study => study.Study.Family!)
            .Where(family => family.Count() > 1);

    private static IEnumerable<FigureTable> Tables(string family, StudyFindings[] members)
        => members[0].Inputs.Select((input, index) => new FigureTable
        {
            Title = $"{family} · {input.Input.Label}, by element type",
            Of = "variant",
            Headings = [.. members.Select(member => member.Study.Element!)],
            Rows = [.. Names(members).Select(name => new FigureRow(name, [.. members.Select(member => Text(member, index, name))]))],
        });

    private static IEnumerable<string> Names(StudyFindings[] members)
        => members.SelectMany(member => member.Study.Variants).Select(variant => variant.Name).Distinct();

    private static string Text(StudyFindings member, int input, string name)
    {
        var cell = member.Inputs.ElementAtOrDefault(input)?.Cells.FirstOrDefault(cell => cell.Variant.Name == name);
        if (cell is null || !cell.NanosecondsPerCall.IsKnown)
        {
            return "–";
        }

        var time = Quantity.Known(cell.NanosecondsPerCall, Quantity.Time);
        return cell.Contrast is { } contrast
            ? $"{time}  {Quantity.FactorOnly(contrast.TimeRatio)}"
            : time;
    }
}
