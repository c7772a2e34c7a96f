using System.Collections.Immutable;
using System.Composition;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CodeActions;
using Microsoft.CodeAnalysis.CodeFixes;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Formatting;

namespace Tachyscope.CodeFixes;

/// <summary>Mends what a rule about operations found, where there is one way to mend it.</summary>
[ExportCodeFixProvider(LanguageNames.CSharp)]
[Shared]
public sealed class OperationFixes : CodeFixProvider
{
    private static readonly ImmutableDictionary<string, string> Titles = ImmutableDictionary.CreateRange(new Dictionary<string, string>
    {
        ["TACHY01"] = "Return the result",
        ["TACHY02"] = "Leave it out",
        ["TACHY03"] = "Give it a seed",
        ["TACHY04"] = "Return a task",
        ["TACHY06"] = "Leave the variant out",
        ["TACHY07"] = "Wait for it",
        ["TACHY09"] = "Evaluate it",
    });

    /// <inheritdoc/>
    public override ImmutableArray<string> FixableDiagnosticIds { get; } = ImmutableArray.CreateRange(Titles.Keys);

    /// <inheritdoc/>
    public override FixAllProvider GetFixAllProvider() => WellKnownFixAllProviders.BatchFixer;

    /// <inheritdoc/>
    public override async Task RegisterCodeFixesAsync(CodeFixContext context)
    {
        var root = await context.Document.GetSyntaxRootAsync(context.CancellationToken).ConfigureAwait(false);
        foreach (var diagnostic in context.Diagnostics)
        {
            if (root?.FindNode(diagnostic.Location.SourceSpan, getInnermostNodeForTie: true) is { } found
                && Mended(diagnostic.Id, found) is var (old, mended))
            {
                var title = Titles[diagnostic.Id];
                var changed = mended is null
                    ? root.RemoveNode(old, SyntaxRemoveOptions.KeepNoTrivia)
                    : root.ReplaceNode(old, mended.WithAdditionalAnnotations(Formatter.Annotation));
                context.RegisterCodeFix(
                    CodeAction.Create(title, _ => Task.FromResult(context.Document.WithSyntaxRoot(changed!)),
                        equivalenceKey: diagnostic.Id),
                    diagnostic);
            }
        }
    }

    // What is replaced, and what by; by nothing where it goes. Null where there is more than one way, which is for the author to choose.
    private static (SyntaxNode Old, SyntaxNode? Mended)? Mended(string rule, SyntaxNode found) => rule switch
    {
        "TACHY01" => Returned(found),
        "TACHY02" => found.Ancestors().OfType<ExpressionStatementSyntax>().FirstOrDefault() is { } statement && Writes(statement, found)
            ? (statement, null)
            : null,
        "TACHY03" when found is ExpressionSyntax made => (made, SyntaxFactory.ParseExpression("new Random(1)").WithTriviaFrom(made)),
        "TACHY04" => Lambda(found) is ParenthesizedLambdaExpressionSyntax { ReturnType: { } type }
            ? (type, SyntaxFactory.ParseTypeName("Task").WithTriviaFrom(type))
            : null,
        "TACHY06" => found.Ancestors().OfType<InvocationExpressionSyntax>().FirstOrDefault() is
            { Expression: MemberAccessExpressionSyntax { Expression: var before } } variant
            ? (variant, before.WithTrailingTrivia(variant.GetTrailingTrivia()))
            : null,
        "TACHY07" => Awaited(found),
        "TACHY09" when found is ExpressionSyntax sequence
            => (sequence, SyntaxFactory.InvocationExpression(SyntaxFactory.MemberAccessExpression(
            SyntaxKind.SimpleMemberAccessExpression, sequence.WithoutTrivia(), SyntaxFactory.IdentifierName("ToArray")))
                .WithTriviaFrom(sequence)),
        _ => null,
    };

    // Where nothing but a constant is returned behind it, or nothing at all, the call is what the lambda is about.
    private static (SyntaxNode, SyntaxNode?)? Returned(SyntaxNode found)
        => found.Parent is ExpressionStatementSyntax { Parent: BlockSyntax block } statement && Lambda(found) is { } lambda
            && lambda.Body == block
            && block.Statements.Skip(block.Statements.IndexOf(statement) + 1).ToList() is var rest
            && (rest.Count == 0 || (rest.Count == 1 && rest[0] is ReturnStatementSyntax { Expression: LiteralExpressionSyntax }))
            ? (block, block.WithStatements(SyntaxFactory.List<StatementSyntax>([
                .. block.Statements.TakeWhile(earlier => earlier != statement),
                SyntaxFactory.ReturnStatement(SyntaxFactory.Token(SyntaxKind.ReturnKeyword).WithTrailingTrivia(SyntaxFactory.Space),
                    statement.Expression, statement.SemicolonToken)
                    .WithLeadingTrivia(statement.GetLeadingTrivia()).WithTrailingTrivia(block.Statements.Last().GetTrailingTrivia())])))
            : null;

    // A statement that is the call, and no more.
    private static bool Writes(ExpressionStatementSyntax statement, SyntaxNode found)
        => statement.Expression is InvocationExpressionSyntax call && call.Expression == found;

    private static (SyntaxNode, SyntaxNode?)? Awaited(SyntaxNode found)
    {
        if (found is not InvocationExpressionSyntax task || Lambda(found) is not { } lambda)
        {
            return null;
        }

        var changed = lambda.ReplaceNode(task, SyntaxFactory.AwaitExpression(task.WithoutTrivia()).NormalizeWhitespace()
            .WithTriviaFrom(task));
        return (lambda, lambda.AsyncKeyword.RawKind != 0
            ? changed
            : changed.WithAsyncKeyword(SyntaxFactory.Token(SyntaxKind.AsyncKeyword).WithTrailingTrivia(SyntaxFactory.Space)));
    }

    private static AnonymousFunctionExpressionSyntax? Lambda(SyntaxNode found)
        => found.AncestorsAndSelf().OfType<AnonymousFunctionExpressionSyntax>().FirstOrDefault();
}
