namespace Tachyscope.Snippets;

/// <summary>Snippets to be compared, and what they need.</summary>
public sealed record SnippetWish
{
    /// <summary>The variants, the baseline first.</summary>
    public required IReadOnlyList<Snippet> Variants { get; init; }

    /// <summary>Statements that are carried out outside the timing, once for each input; what they declare can be used by the
    /// variants.</summary>
    public IReadOnlyList<string> Given { get; init; } = [];

    /// <summary>Variables and their values, such as "n = 10, 100, 1000"; every combination is an input.</summary>
    public IReadOnlyList<string> Inputs { get; init; } = [];

    /// <summary>A number to be turned and its settings, such as "block = 16, 64, 256"; null for none.</summary>
    public string? Dial { get; init; }

    /// <summary>Namespaces in scope beyond those of a new project.</summary>
    public IReadOnlyList<string> Usings { get; init; } = [];

    /// <summary>Assemblies beyond the framework's.</summary>
    public IReadOnlyList<string> References { get; init; } = [];

    /// <summary>Assemblies all of whose namespaces are in scope.</summary>
    public IReadOnlyList<string> Projects { get; init; } = [];

    /// <summary>By what share of the larger of 1 and the two numbers may differ; null, by default, for not at all.</summary>
    public double? Tolerance { get; init; }

    /// <summary>Whether answers are not compared, as each call gives another; false by default.</summary>
    public bool IsAnyAnswerTaken { get; init; }
}
