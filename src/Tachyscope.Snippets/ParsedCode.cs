using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Text;

namespace Tachyscope.Snippets;

/// <summary>A variant's code taken apart: whether it is an expression or statements, and whether it awaits.</summary>
internal sealed record ParsedCode
{
    // In an asynchronous function await is a keyword, and all else is as elsewhere.
    private const string Before = "async () => ";
    private const string BlockBefore = Before + "{ ";

    /// <summary>The code, without the semicolon that would make a statement of an expression.</summary>
    public required string Code { get; init; }

    /// <summary>Namespaces and aliases that it begins with, as files do; they hold for all snippets, as its types do.</summary>
    public IReadOnlyList<string> Usings { get; private init; } = [];

    public IReadOnlyList<string> Types { get; private init; } = [];

    public required bool IsExpression { get; init; }

    public required bool IsAwaiting { get; init; }

    /// <summary>Whether it awaits, or a function in it does.</summary>
    public bool IsAnyAwaited { get; private init; }

    public IReadOnlyList<SnippetProblem> Problems { get; private init; } = [];

    public static ParsedCode Of(string code, string name)
    {
        var parts = new CodeParts(code);
        return Declared(parts, name) is { } problem
            ? new ParsedCode { Code = code, IsExpression = false, IsAwaiting = false, Problems = [problem] }
            : OfBare(parts.Bare, name) with { Usings = parts.Usings, Types = [.. parts.Types.Select(type => type.ToString())] };
    }

    // A file may be all declarations, of which nothing is called.
    private static SnippetProblem? Declared(CodeParts parts, string name)
    {
        var functions = parts.Functions;
        if (parts.Types.OfType<BaseNamespaceDeclarationSyntax>().FirstOrDefault() is { } space)
        {
            return Told(space.Name.Span, "a snippet has no namespace of its own; leave that out, or lend a project's types by --project.");
        }

        if (functions.Count + parts.Types.Count is 0 || functions.Count + parts.Types.Count < parts.Root.Members.Count)
        {
            return null;
        }

        return functions.Count > 0
            ? Told(functions[0].Identifier.Span, "is declared and called by nobody; end the snippet with what is to be timed, such as "
                + $"'return {functions[0].Identifier.Text}(…);'.")
            : Told(parts.Types[0].Span, "is a type, and nothing is done with it; begin the snippet with what is to be timed.");

        SnippetProblem Told(TextSpan where, string words) => new MarkedText().AddCode(name, parts.ToString()).Problem(where, words);
    }

    private static ParsedCode OfBare(string code, string name)
    {
        if (string.IsNullOrWhiteSpace(code))
        {
            return new ParsedCode { Code = code, IsExpression = true, IsAwaiting = false,
                Problems = [new SnippetProblem($"{name} is empty; write an expression, such as 'text.Split(',')'.")] };
        }

        // The semicolon is habit.
        var bare = code.TrimEnd().TrimEnd(';').TrimEnd();
        var expression = Lambda(Before + bare + "\n");
        // Statements in braces make the lambda's body, and are no expression.
        if (!expression.ContainsDiagnostics && expression is not LambdaExpressionSyntax { Block: not null })
        {
            return new ParsedCode { Code = bare, IsExpression = true, IsAwaiting = Awaits(expression),
                IsAnyAwaited = CodeParts.HasAwait(expression) };
        }

        var block = Lambda(BlockBefore + code + "\n}");
        // A missing last semicolon is no mistake worth an answer.
        if (block.ContainsDiagnostics
            && (bare.Contains(';', StringComparison.Ordinal) || bare.StartsWith("return ", StringComparison.Ordinal))
            && Lambda(BlockBefore + code + "\n;\n}") is { ContainsDiagnostics: false } ended)
        {
            (block, code) = (ended, $"{code}\n;");
        }

        var isBlock = !block.ContainsDiagnostics;
        var looksLikeBlock = isBlock || bare.Contains(';', StringComparison.Ordinal) || bare.StartsWith('{');
        var (tree, offset, text) = looksLikeBlock ? (block, BlockBefore.Length, code) : (expression, Before.Length, bare);
        return new ParsedCode
        {
            Code = text,
            IsExpression = !looksLikeBlock,
            IsAwaiting = Awaits(tree),
            IsAnyAwaited = CodeParts.HasAwait(tree),
            Problems = isBlock ? [] : [.. tree.GetDiagnostics().Take(3).Select(diagnostic => Told(diagnostic, offset, name, text))],
        };
    }

    // What is left over behind an expression is told of all of it, from its very beginning, which is ours.
    private static SnippetProblem Told(Diagnostic diagnostic, int offset, string name, string text)
    {
        var span = diagnostic.Location.SourceSpan;
        var start = Math.Max(span.Start, offset);
        return new MarkedText().Add(new string(' ', offset)).AddCode(name, text).Problem(
            TextSpan.FromBounds(start, Math.Max(start, span.End)), MarkedText.Words(diagnostic));
    }

    private static ExpressionSyntax Lambda(string text) => SyntaxFactory.ParseExpression(text, options: SnippetCompiler.Language);

    private static bool Awaits(ExpressionSyntax lambda)
        => lambda.DescendantNodes(node => node == lambda || node is not (AnonymousFunctionExpressionSyntax or LocalFunctionStatementSyntax))
            .Any(node => node is AwaitExpressionSyntax || (node is CommonForEachStatementSyntax { AwaitKeyword.RawKind: not 0 }));
}
