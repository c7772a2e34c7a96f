using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>A text as a compiler reads a file: usings, types, and the statements that are neither.</summary>
internal sealed class CodeParts
{
    private readonly string _code;

    public CodeParts(string code)
    {
        // A method that was taken out of its class is a function here, which knows no access.
        var (bare, root) = (code.ToCharArray(), Parsed(code));
        foreach (var access in FunctionsOf(root).SelectMany(function => function.Modifiers).Where(IsAccess))
        {
            bare.AsSpan(access.SpanStart, access.Span.Length).Fill(' ');
        }

        _code = new string(bare);
        Root = _code == code ? root : Parsed(_code);
    }

    public CompilationUnitSyntax Root { get; }

    public IReadOnlyList<string> Usings => [.. Root.Usings.Select(line => line.ToString())];

    public IReadOnlyList<MemberDeclarationSyntax> Types
        => [.. Root.Members.Where(member => member is not (GlobalStatementSyntax or IncompleteMemberSyntax))];

    public IReadOnlyList<GlobalStatementSyntax> Statements => [.. Root.Members.OfType<GlobalStatementSyntax>()];

    public IReadOnlyList<LocalFunctionStatementSyntax> Functions => [.. FunctionsOf(Root)];

    /// <summary>The text without its usings and types.</summary>
    public string Bare
    {
        get
        {
            var bare = _code;
            foreach (var part in Root.Usings.Concat<SyntaxNode>(Types).OrderByDescending(part => part.SpanStart))
            {
                bare = bare.Remove(part.SpanStart, part.Span.Length);
            }

            return bare.Length == _code.Length ? bare : bare.Trim();
        }
    }

    /// <summary>The parts of statements whose last semicolon may be missing: that is no mistake worth an answer.</summary>
    public static CodeParts OfStatements(string code)
        // It stands on a line of its own, where no comment reaches.
        => new CodeParts(code.TrimEnd()) is { Root.ContainsDiagnostics: false } whole ? whole : new CodeParts($"{code.TrimEnd()}\n;");

    /// <summary>Whether anything in it awaits.</summary>
    public static bool HasAwait(SyntaxNode node) => node.DescendantTokens().Any(token => token.IsKind(SyntaxKind.AwaitKeyword));

    public override string ToString() => _code;

    private static CompilationUnitSyntax Parsed(string code) => SyntaxFactory.ParseCompilationUnit(code, options: SnippetCompiler.Language);

    private static IEnumerable<LocalFunctionStatementSyntax> FunctionsOf(CompilationUnitSyntax root)
        => root.Members.OfType<GlobalStatementSyntax>().Select(member => member.Statement).OfType<LocalFunctionStatementSyntax>();

    private static bool IsAccess(SyntaxToken modifier)
        => modifier.Kind() is SyntaxKind.PublicKeyword or SyntaxKind.InternalKeyword or SyntaxKind.ProtectedKeyword
            or SyntaxKind.PrivateKeyword;
}
