namespace Tachyscope.Reports.Studies;

/// <summary>The scale on which a table's factors are drawn: equal steps are equal factors, and the baseline's own is on it.</summary>
/// <param name="Left">Factor at the left end, 1 at most.</param>
/// <param name="Right">Factor at the right end, 1 at least.</param>
public sealed record MarkScale(double Left, double Right)
{
    // Below it all would seem far apart that is hardly told apart.
    private const double LeastStretch = 1.02;

    /// <summary>Where the baseline lies.</summary>
    public double Baseline => Position(1);

    /// <summary>The scale that shows a set of factors; null when there is nothing to show.</summary>
    /// <param name="marks">The factors.</param>
    public static MarkScale? For(IReadOnlyCollection<Mark> marks)
    {
        ArgumentNullException.ThrowIfNull(marks);
        if (marks.Count == 0)
        {
            return null;
        }

        var (left, right) = (Math.Min(1, marks.Min(mark => mark.Lower)), Math.Max(1, marks.Max(mark => mark.Upper)));
        var missing = Math.Sqrt(Math.Max(1, LeastStretch / (right / left)));
        return new MarkScale(left / missing, right * missing);
    }

    /// <summary>Where a factor lies on the scale, from 0 at the left end to 1 at the right.</summary>
    /// <param name="factor">The factor.</param>
    public double Position(double factor) => Math.Clamp(Math.Log(factor / Left) / Math.Log(Right / Left), 0, 1);
}
