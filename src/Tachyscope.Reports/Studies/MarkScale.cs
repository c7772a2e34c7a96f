namespace Tachyscope.Reports.Studies;

/// <summary>The scale on which a table's intervals are drawn: from nothing, from just below the least, or logarithmic.</summary>
public sealed record MarkScale
{
    private const double AlikeShare = 0.6;
    private const double FarApart = 40;

    /// <summary>Time at the left end, in nanoseconds.</summary>
    public required double Left { get; init; }

    /// <summary>Time at the right end, in nanoseconds.</summary>
    public required double Right { get; init; }

    /// <summary>Whether equal steps are equal factors.</summary>
    public bool IsLogarithmic { get; init; }

    /// <summary>The scale that shows a set of intervals best; null when there is nothing to show.</summary>
    /// <param name="marks">The intervals.</param>
    public static MarkScale? For(IReadOnlyCollection<Mark> marks)
    {
        ArgumentNullException.ThrowIfNull(marks);
        if (marks.Count == 0)
        {
            return null;
        }

        var least = marks.Min(mark => mark.Lower);
        var most = marks.Max(mark => mark.Upper);
        if (!(most > 0))
        {
            return null;
        }

        if (least > 0 && most / least > FarApart)
        {
            return new MarkScale { Left = least, Right = most, IsLogarithmic = true };
        }

        return least > AlikeShare * most && most > least
            ? new MarkScale { Left = least, Right = most }
            : new MarkScale { Left = Math.Min(0, marks.Min(mark => mark.Estimate)), Right = most };
    }

    /// <summary>Where a time lies on the scale, from 0 at the left end to 1 at the right.</summary>
    /// <param name="nanoseconds">The time.</param>
    public double Position(double nanoseconds)
    {
        var position = IsLogarithmic
            ? Math.Log(nanoseconds / Left) / Math.Log(Right / Left)
            : (nanoseconds - Left) / (Right - Left);
        return double.IsNaN(position) ? 0 : Math.Clamp(position, 0, 1);
    }
}
