using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Dials;

/// <summary>A variant at one setting of its dials.</summary>
public sealed record SettingFindings
{
    /// <summary>Index of the row.</summary>
    public required int Row { get; init; }

    /// <summary>Settings of its dials, one or two.</summary>
    public required IReadOnlyList<DialSetting> Settings { get; init; }

    /// <summary>Its time as a multiple of the best setting's.</summary>
    public required Interval TimeRatio { get; init; }

    /// <summary>Whether it has the least time.</summary>
    public required bool IsBest { get; init; }

    /// <summary>What it loses against the best setting.</summary>
    public required Loss Loss { get; init; }

    /// <summary>Whether it is the best, or nothing separates it from the best.</summary>
    public required bool IsTied { get; init; }
}
