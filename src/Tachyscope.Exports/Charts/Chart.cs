namespace Tachyscope.Exports.Charts;

/// <summary>A figure as data, to be drawn by a page or into a picture.</summary>
/// <param name="Name">What kind it is, as pictures are asked for: "contrasts", "growth" and so on.</param>
/// <param name="Title">What it shows, in a line.</param>
/// <param name="X">The horizontal axis.</param>
/// <param name="Y">The vertical axis.</param>
/// <param name="Series">What is drawn.</param>
/// <param name="Note">How to read it, in a sentence.</param>
internal sealed record Chart(string Name, string Title, ChartAxis X, ChartAxis Y, IReadOnlyList<ChartSeries> Series, string Note);

/// <summary>An axis.</summary>
/// <param name="Label">What lies along it.</param>
/// <param name="Quantity">How its numbers are written.</param>
/// <param name="IsLogarithmic">Whether equal steps are equal factors.</param>
/// <param name="Categories">Names of the places 0, 1, … along it; null for numbers.</param>
internal sealed record ChartAxis(string Label, ChartQuantity Quantity, bool IsLogarithmic = false,
    IReadOnlyList<string>? Categories = null);

/// <summary>What an axis counts, which decides how its numbers are written.</summary>
internal enum ChartQuantity
{
    /// <summary>A number.</summary>
    Number,

    /// <summary>Nanoseconds.</summary>
    Time,

    /// <summary>A factor on the baseline's time.</summary>
    Factor,

    /// <summary>Bytes.</summary>
    Bytes,

    /// <summary>A share.</summary>
    Share,

    /// <summary>Something a second.</summary>
    Rate,
}

/// <summary>How a series is drawn.</summary>
internal enum ChartShape
{
    /// <summary>Points joined by a line, with the reach of each.</summary>
    Line,

    /// <summary>Points with the reach of each along the horizontal axis.</summary>
    Intervals,

    /// <summary>Points.</summary>
    Dots,

    /// <summary>Bars from the left, one behind the other in each category.</summary>
    Bars,
}

/// <summary>One thing drawn, under one name.</summary>
/// <param name="Name">Its name in the legend.</param>
/// <param name="Shape">How it is drawn.</param>
/// <param name="Points">Its points.</param>
internal sealed record ChartSeries(string Name, ChartShape Shape, IReadOnlyList<ChartPoint> Points);

/// <summary>A point.</summary>
/// <param name="X">Where it lies along the horizontal axis.</param>
/// <param name="Y">Where it lies along the vertical axis.</param>
/// <param name="Lower">Lower end of its interval, along the horizontal axis for intervals and the vertical one else; null without.</param>
/// <param name="Upper">Upper end of that interval.</param>
/// <param name="IsMuted">Whether it is drawn pale, since it counts for less.</param>
internal sealed record ChartPoint(double X, double Y, double? Lower = null, double? Upper = null, bool IsMuted = false);
