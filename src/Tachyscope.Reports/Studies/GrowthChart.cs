using Tachyscope.Analysis.Growth;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Times over sizes, both logarithmic, to be drawn small; rows go by the letters they have in the table of growth.</summary>
public sealed record GrowthChart
{
    // Two points make a line whatever lies between.
    private const int FewestSizes = 3;
    private const int MostLines = 26;

    /// <summary>What it shows.</summary>
    public required string Title { get; init; }

    /// <summary>What the sizes count.</summary>
    public required string Axis { get; init; }

    /// <summary>The sizes, rising.</summary>
    public required IReadOnlyList<int> Sizes { get; init; }

    /// <summary>The rows: letter, name, and time in nanoseconds at each size; NaN where it has none.</summary>
    public required IReadOnlyList<(char Letter, string Name, IReadOnlyList<double> NanosecondsPerCall)> Lines { get; init; }

    /// <summary>The letter of a row, by its place in the table of growth.</summary>
    /// <param name="index">Its place, from 0.</param>
    /// <returns>A blank for rows beyond the alphabet, which are not drawn.</returns>
    public static char Letter(int index) => index < MostLines ? (char)('a' + index) : ' ';

    /// <summary>The chart of what was found along an axis; null when there is nothing to draw.</summary>
    /// <param name="study">The study.</param>
    /// <param name="growth">What was found.</param>
    public static GrowthChart? Of(StudyDescription study, GrowthFindings growth)
    {
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(growth);
        var lines = growth.Variants.Take(MostLines).Select((variant, index) => (
            Letter(index),
            study.Variants[variant.Row].Name,
            (IReadOnlyList<double>)[.. growth.Sizes.Select(size => variant.Points.Where(point => point.Size == size
                && point.NanosecondsPerCall.IsMeasured).Select(point => point.NanosecondsPerCall.Estimate).FirstOrDefault(double.NaN))]))
                    .ToList();
        return lines.Exists(line => line.Item3.Count(double.IsFinite) >= FewestSizes)
            ? new GrowthChart { Title = $"{AnswerReporter.Title(growth)}, time per call", Axis = growth.Axis, Sizes = growth.Sizes,
                Lines = lines }
            : null;
    }
}
