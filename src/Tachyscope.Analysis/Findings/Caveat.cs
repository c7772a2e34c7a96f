namespace Tachyscope.Analysis.Findings;

/// <summary>A reason to distrust a result, or what has to be known of it, with its evidence and the way out.</summary>
public sealed record Caveat
{
    /// <summary>Its short name, as listed in docs/caveats.md.</summary>
    public required string Name { get; init; }

    /// <summary>What it applies to, such as a variant's name; null for the whole study.</summary>
    public string? Subject { get; init; }

    /// <summary>Whether it is about the machine, the process or the run as a whole, and about no code of the study.</summary>
    public bool IsOfRun { get; init; }

    /// <summary>Whether it tells what a figure stands for, which is right as it is: a note rather than a doubt.</summary>
    public bool IsNote { get; init; }

    /// <summary>The evidence, in figures.</summary>
    public required string Evidence { get; init; }

    /// <summary>The way out.</summary>
    public required string WayOut { get; init; }
}
