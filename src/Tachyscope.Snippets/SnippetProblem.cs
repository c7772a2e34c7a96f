namespace Tachyscope.Snippets;

/// <summary>What is wrong with a snippet, and where.</summary>
/// <param name="Message">A sentence.</param>
/// <param name="Line">The line of the snippet it is about; null where it is about none.</param>
/// <param name="Column">Where in that line, from 0.</param>
/// <param name="Length">How many characters of it.</param>
public sealed record SnippetProblem(string Message, string? Line = null, int Column = 0, int Length = 1)
{
    /// <summary>The message, and below it the line with what is meant underlined.</summary>
    public IEnumerable<string> Lines()
    {
        yield return Message;
        if (Line is { } line)
        {
            yield return $"    {line}";
            yield return $"    {new string(' ', Column)}{new string('^', Math.Max(1, Length))}";
        }
    }
}
