using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>What is given taken apart: directives, types, functions, and the statements that make the rest.</summary>
internal sealed record GivenCode
{
    private const string Name = "--given";

    public required IReadOnlyList<string> Usings { get; init; }

    public required IReadOnlyList<string> Types { get; init; }

    public required IReadOnlyList<string> Statements { get; init; }

    /// <summary>Functions among the statements; variants have them too.</summary>
    public required IReadOnlyList<string> Functions { get; init; }

    public required IReadOnlyList<SnippetProblem> Problems { get; init; }

    public static GivenCode Of(IReadOnlyList<string> given)
    {
        // A missing last semicolon is no mistake worth an answer.
        string[] all = [.. given.Select(code => code.TrimEnd() is var trimmed && trimmed.EndsWith(';')
            || trimmed.EndsWith('}') ? trimmed : $"{trimmed};")];
        var roots = all.Select(code => (Code: code,
            Root: SyntaxFactory.ParseCompilationUnit(code, options: SnippetCompiler.Language))).ToList();
        var statements = roots.SelectMany(root => root.Root.Members.OfType<GlobalStatementSyntax>()).ToList();
        return new GivenCode
        {
            Usings = [.. roots.SelectMany(root => root.Root.Usings).Select(line => line.ToString())],
            Types = [.. roots.SelectMany(root => root.Root.Members.Where(member => member is not GlobalStatementSyntax))
                .Select(type => type.ToString())],
            Statements = [.. statements.Select(statement => statement.ToString())],
            Functions = [.. statements.Where(statement => statement.Statement is LocalFunctionStatementSyntax)
                .Select(statement => statement.ToString())],
            Problems = [.. roots.SelectMany(root => Values(root.Code, root.Root) is { } problem ? [problem]
                : root.Root.GetDiagnostics().Take(3).Select(diagnostic => new MarkedText().AddCode(Name, root.Code).Problem(diagnostic)))],
        };
    }

    // 'n = 10, 100', which is how an input is written.
    private static SnippetProblem? Values(string code, CompilationUnitSyntax root)
    {
        foreach (var statement in root.Members.OfType<GlobalStatementSyntax>().Select(member => member.Statement))
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

    public void AddFunctionsTo(MarkedText text)
    {
        foreach (var function in Functions)
        {
            text.AddCode(Name, function).Add("\n");
        }
    }

    public void AddTypesTo(MarkedText text)
    {
        foreach (var type in Types)
        {
            text.AddCode(Name, type).Add("\n");
        }
    }
}
