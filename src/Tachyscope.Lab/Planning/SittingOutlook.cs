namespace Tachyscope.Lab.Planning;

/// <summary>Where a comparison stands when a sitting is about to be read.</summary>
public sealed record SittingOutlook
{
    /// <summary>Sittings held so far.</summary>
    public required int Held { get; init; }

    /// <summary>Sittings of the same set that are read after this one.</summary>
    public int Waiting { get; init; }

    /// <summary>Time the comparison has taken so far, in seconds.</summary>
    public required double ElapsedSeconds { get; init; }

    /// <summary>Time it takes to make those waiting ready, in seconds; 0 when they are.</summary>
    public double AheadSeconds { get; init; }

    /// <summary>Time a whole set takes beside its readings, in seconds.</summary>
    public required double SetSeconds { get; init; }

    /// <summary>Sittings of a set.</summary>
    public int SetSize { get; init; } = 1;
}
