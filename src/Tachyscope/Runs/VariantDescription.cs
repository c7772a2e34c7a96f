namespace Tachyscope.Runs;

/// <summary>One variant of a study, by name.</summary>
public sealed record VariantDescription
{
    /// <summary>Its name, unique in the study.</summary>
    public required string Name { get; init; }

    /// <summary>Whether the others are compared with it.</summary>
    public bool IsBaseline { get; init; }

    /// <summary>How the measured loop reaches it.</summary>
    public CallPath Path { get; init; }
}
