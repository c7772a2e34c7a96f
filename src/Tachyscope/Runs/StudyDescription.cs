namespace Tachyscope.Runs;

/// <summary>A study as its worker describes it, before anything is measured.</summary>
public sealed record StudyDescription
{
    /// <summary>Its name, unique in the project.</summary>
    public required string Name { get; init; }

    /// <summary>The rule by which answers must agree, in words.</summary>
    public required string Agreement { get; init; }

    /// <summary>Its inputs, in the order they were defined.</summary>
    public required IReadOnlyList<InputDescription> Inputs { get; init; }

    /// <summary>Its variants, in the order they were defined.</summary>
    public required IReadOnlyList<VariantDescription> Variants { get; init; }

    /// <summary>What is wrong with the definition, each with its way out; empty when sound.</summary>
    public IReadOnlyList<string> Mistakes { get; init; } = [];
}
