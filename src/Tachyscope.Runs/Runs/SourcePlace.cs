namespace Tachyscope.Runs;

/// <summary>A line of source code.</summary>
sealed partial record SourcePlace
{
    /// <summary>The file, with forward slashes: from the root of its repository down, or its name alone outside of one.</summary>
    public required string File { get; init; }

    /// <summary>The line, from 1.</summary>
    public required int Line { get; init; }
}
