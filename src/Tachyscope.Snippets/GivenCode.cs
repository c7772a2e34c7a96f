using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>What is given taken apart: directives, types, functions, and the statements that make the rest.</summary>
internal sealed record GivenCode
{
    public const string Name = "--given";

    public required IReadOnlyList<string> Usings { get; init; }

    public required IReadOnlyList<string> Types { get; init; }

    public required IReadOnlyList<string> Statements { get; init; }

    /// <summary>Functions among the statements; variants that call them have them too.</summary>
    public required IReadOnlyList<(string Name, string Code)> Functions { get; init; }

    /// <summary>Whether anything of it awaits.</summary>
    public required bool IsAnyAwaited { get; init; }

    public required IReadOnlyList<SnippetProblem> Problems { get; init; }

    public static GivenCode Of(IReadOnlyList<string> given)
    {
        var all = given.Select(CodeParts.OfStatements).ToList();
        return new GivenCode
        {
            Usings = [.. all.SelectMany(parts => parts.Usings)],
            Types = [.. all.SelectMany(parts => parts.Types).Select(type => type.ToString())],
            Statements = [.. all.SelectMany(parts => parts.Statements).Select(statement => statement.ToString())],
            Functions = [.. all.SelectMany(parts => parts.Functions)
                .Select(function => (function.Identifier.ValueText, function.ToString()))],
            IsAnyAwaited = all.Exists(parts => CodeParts.HasAwait(parts.Root)),
            Problems = [.. all.SelectMany(parts => Values(parts) is { } problem ? [problem]
                : parts.Root.GetDiagnostics().Take(3)
                    .Select(diagnostic => new MarkedText().AddCode(Name, parts.ToString()).Problem(diagnostic)))],
        };
    }

    // 'n = 10, 100', which is how an input is written.
    private static SnippetProblem? Values(CodeParts parts)
    {
        var code = parts.ToString();
        foreach (var statement in parts.Statements.Select(member => member.Statement))
        {
            SyntaxToken? name = statement switch
            {
                ExpressionStatementSyntax
                {
                    SemicolonToken.IsMissing: true,
                    Expression: AssignmentExpressionSyntax { Left: IdentifierNameSyntax assigned },
                } when code[statement.Span.End..].TrimStart().StartsWith(',') => assigned.Identifier,
                LocalDeclarationStatementSyntax { Declaration.Variables: [var first, { Identifier.IsMissing: true }, ..] }
                    => first.Identifier,
                _ => null,
            };
            if (name is { } found)
            {
                return new MarkedText().AddCode(Name, code).Problem(found.Span,
                    $"{found.Text} has several values here; each makes an input by --input '{found.Text} = …, …'");
            }
        }

        return null;
    }

    public void AddStatementsTo(MarkedText text)
    {
        foreach (var statement in Statements)
        {
            text.AddCode(Name, statement).Add("\n");
        }
    }

    /// <summary>Writes those functions that are called.</summary>
    public void AddFunctionsTo(MarkedText text, IReadOnlyList<string> called)
    {
        foreach (var (_, code) in Functions.Where(function => called.Contains(function.Name)))
        {
            text.AddCode(Name, code).Add("\n");
        }
    }
}
