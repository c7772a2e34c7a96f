namespace Tachyscope.Runs;

/// <summary>One input of a study, by name.</summary>
public sealed record InputDescription
{
    /// <summary>What the input counts (such as "beacons"); null for a named kind.</summary>
    public string? Axis { get; init; }

    /// <summary>Its label, unique in the study.</summary>
    public required string Label { get; init; }

    /// <summary>Its size; null for a named kind.</summary>
    public int? Size { get; init; }
}
