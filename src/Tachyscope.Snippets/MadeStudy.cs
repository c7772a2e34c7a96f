namespace Tachyscope.Snippets;

/// <summary>What became of snippets.</summary>
public sealed record MadeStudy
{
    /// <summary>The program that measures them, as C#; empty where there are problems.</summary>
    public string Source { get; init; } = "";

    /// <summary>The same compiled; empty where there are problems.</summary>
    public ReadOnlyMemory<byte> Assembly { get; init; }

    /// <summary>What keeps them from being measured.</summary>
    public IReadOnlyList<SnippetProblem> Problems { get; init; } = [];

    /// <summary>What may make the figures mean something else than is thought.</summary>
    public IReadOnlyList<SnippetProblem> Doubts { get; init; } = [];
}
