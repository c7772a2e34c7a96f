using System.Globalization;
using System.Text;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Text;

namespace Tachyscope.Snippets;

/// <summary>A program under construction that knows which of its text came from which snippet.</summary>
internal sealed class MarkedText
{
    /// <summary>The compiler's number for a type of whose name there is another.</summary>
    public const string DeclaredTwice = "CS0101";

    private readonly StringBuilder _text = new();
    private readonly List<(int Start, string Name, string Code)> _pieces = [];

    public override string ToString() => _text.ToString();

    public MarkedText Add(string ours)
    {
        _text.Append(ours);
        return this;
    }

    /// <param name="name">How the piece is called in a message.</param>
    /// <param name="code">Its text.</param>
    public MarkedText AddCode(string name, string code)
    {
        _pieces.Add((_text.Length, name, code));
        _text.Append(code);
        return this;
    }

    public SnippetProblem Problem(Diagnostic diagnostic) => Problem(diagnostic.Location.SourceSpan, Words(diagnostic));

    /// <summary>The compiler's words, and its number for them; ours where it speaks of what it does not know to be ours.</summary>
    public static string Words(Diagnostic diagnostic)
    {
        var words = diagnostic.GetMessage(CultureInfo.InvariantCulture);
        return diagnostic.Id is "CS0128" or "CS0136" && words.Contains($"'{StudyPlan.Seed}'", StringComparison.Ordinal)
            ? $"{StudyPlan.Seed} is there already, the run's own for new Random({StudyPlan.Seed}); "
                + $"call yours something else ({diagnostic.Id})"
            : diagnostic.Id == DeclaredTwice ? $"{Marked(diagnostic)} is declared elsewhere too, and types hold for all snippets; "
                + $"call one of them something else ({diagnostic.Id})"
            : Undeclared(diagnostic) is { } name ? $"{name} is declared nowhere; write 'var {name} = …' ({diagnostic.Id})"
            : $"{words} ({diagnostic.Id})";
    }

    private static string? Marked(Diagnostic diagnostic)
        => diagnostic.Location.SourceTree?.GetText().ToString(diagnostic.Location.SourceSpan);

    // What a statement gives a value to, and no statement declares.
    private static string? Undeclared(Diagnostic diagnostic)
        => diagnostic.Id == "CS0103" && diagnostic.Location.SourceTree?.GetRoot().FindNode(diagnostic.Location.SourceSpan)
            is IdentifierNameSyntax { Parent: AssignmentExpressionSyntax { Parent: ExpressionStatementSyntax } assignment } name
            && assignment.Left == name ? name.Identifier.Text : null;

    /// <summary>A problem at a place of the program: told at the snippet it came from, at its end where it lies just behind.</summary>
    public SnippetProblem Problem(TextSpan span, string message)
    {
        var (start, name, code) = _pieces.FindLast(piece => piece.Start <= span.Start);
        if (name is null || span.Start > start + code.Length + 2)
        {
            return new SnippetProblem(message);
        }

        var offset = Math.Min(span.Start - start, code.Length);
        var begin = offset == 0 ? 0 : code.LastIndexOf('\n', offset - 1) + 1;
        var end = code.IndexOf('\n', offset) is >= 0 and var newLine ? newLine : code.Length;
        var line = code[begin..end].TrimEnd('\r');
        var column = Math.Min(offset - begin, line.Length);
        return new SnippetProblem($"{name}: {message}", line, column, Math.Clamp(span.Length, 1, Math.Max(1, line.Length - column)));
    }
}
