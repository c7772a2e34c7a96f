using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>Finds snippets that would be timed and would mean nothing.</summary>
internal static class Senses
{
    // Methods after which what they were called on is another: a second call would find the work done.
    private static readonly HashSet<string> Changing = new(StringComparer.Ordinal)
    {
        "Sort", "Reverse", "Shuffle", "Fill", "Clear",
        "Add", "AddRange", "AddFirst", "AddLast", "TryAdd", "Insert", "InsertRange", "Append", "AppendLine", "Push", "Enqueue",
        "Remove", "RemoveAt", "RemoveAll", "RemoveRange", "Pop", "Dequeue", "UnionWith", "ExceptWith", "IntersectWith",
    };

    private static readonly HashSet<string> CalledForTheirResult = new(StringComparer.Ordinal)
    {
        "Parse", "ToString", "Contains", "IndexOf", "Equals", "GetHashCode", "ToArray", "ToList",
    };

    private static readonly HashSet<string> TakingWhatTheyChange =
        new(StringComparer.Ordinal) { "System.Array", "System.MemoryExtensions" };

    /// <summary>What nothing could be learned from.</summary>
    public static IEnumerable<SnippetProblem> Problems(LambdaExpressionSyntax lambda, SemanticModel model, MarkedText text)
    {
        if (lambda.ExpressionBody is not { } body)
        {
            yield break;
        }

        var bare = Bare(body);
        if (bare is AnonymousFunctionExpressionSyntax)
        {
            yield return text.Problem(bare.Span, "is a function that nobody calls; write what it does instead, without the arrow.");
        }
        else if (bare is BaseObjectCreationExpressionSyntax)
        {
            if (IsTask(model.GetTypeInfo(bare).Type))
            {
                yield return text.Problem(bare.Span, "is a task that nobody starts; write Task.Run(…), or what it does without a task.");
            }
        }
        else if (model.GetMemberGroup(bare).OfType<IMethodSymbol>().FirstOrDefault() is { } method
            && bare is not InvocationExpressionSyntax)
        {
            yield return text.Problem(bare.Span, $"names the method {method.Name} and does not call it; write {bare}(…).");
        }
        else if (model.GetConstantValue(bare).HasValue)
        {
            yield return text.Problem(bare.Span,
                "is a constant, which the compiler has worked out already; use a variable of --input or --given in it.");
        }
        else if (model.GetSymbolInfo(bare).Symbol is ILocalSymbol or IFieldSymbol
            && bare is IdentifierNameSyntax or MemberAccessExpressionSyntax)
        {
            yield return text.Problem(bare.Span, "only reads a value that was made before; write here what is to be timed.");
        }
    }

    /// <summary>What the figures may mean otherwise than is thought.</summary>
    public static IEnumerable<SnippetProblem> Doubts(LambdaExpressionSyntax lambda, SemanticModel model, MarkedText text,
        IReadOnlySet<string> given)
    {
        foreach (var statement in lambda.DescendantNodes().OfType<ExpressionStatementSyntax>())
        {
            var expression = Bare(statement.Expression);
            if (expression is InvocationExpressionSyntax
                && model.GetTypeInfo(expression).Type is { SpecialType: not SpecialType.System_Void } type
                && IsForItsResult(model.GetSymbolInfo(expression).Symbol))
            {
                yield return text.Problem(expression.Span, IsTask(type)
                    ? "is not waited for; put await before it, or its work is not in the time."
                    : "is thrown away, and the compiler may leave out what nobody uses; return it.");
            }
        }

        foreach (var call in lambda.DescendantNodes().OfType<InvocationExpressionSyntax>())
        {
            if (Changed(call, model) is { } name && given.Contains(name))
            {
                yield return text.Problem(call.Span,
                    $"changes {name}, so that only the first call finds it as it was given; make it in the snippet itself.");
            }
        }

        foreach (var write in lambda.DescendantNodes())
        {
            var target = write switch
            {
                AssignmentExpressionSyntax assignment => assignment.Left,
                PostfixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.PostIncrementExpression
                    or (int)SyntaxKind.PostDecrementExpression } step => step.Operand,
                PrefixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.PreIncrementExpression
                    or (int)SyntaxKind.PreDecrementExpression } step => step.Operand,
                _ => null,
            };
            if (target is IdentifierNameSyntax { Identifier.ValueText: var local } && given.Contains(local)
                && model.GetSymbolInfo(target).Symbol is ILocalSymbol symbol
                    && !lambda.Span.Contains(symbol.DeclaringSyntaxReferences[0].Span))
            {
                yield return text.Problem(write.Span,
                    $"changes {local}, of which every call has a copy of its own: each begins with what was given.");
            }
        }
    }

    // Of what is given, the variable that a call changes.
    private static string? Changed(InvocationExpressionSyntax call, SemanticModel model)
    {
        if (call.Expression is not MemberAccessExpressionSyntax member || !Changing.Contains(member.Name.Identifier.ValueText)
            || model.GetSymbolInfo(call).Symbol is not IMethodSymbol method)
        {
            return null;
        }

        var takes = method.IsStatic && TakingWhatTheyChange.Contains(method.ContainingType.ToDisplayString());
        var changed = takes ? call.ArgumentList.Arguments.FirstOrDefault()?.Expression : method.IsStatic || method.IsExtensionMethod
            || IsUnchanging(method) ? null : member.Expression;
        return changed is IdentifierNameSyntax name ? name.Identifier.ValueText : null;
    }

    // Collections that never change give a new one.
    private static bool IsUnchanging(IMethodSymbol method)
        => method.ContainingType.SpecialType == SpecialType.System_String
            || method.ContainingNamespace.ToDisplayString() is "System.Collections.Immutable" or "System.Collections.Frozen";

    // Others are called for what they do: TryAdd, Append.
    private static bool IsForItsResult(ISymbol? symbol)
        => symbol is IMethodSymbol method && !Changing.Contains(method.Name)
            && (method.ContainingType.SpecialType == SpecialType.System_String
                || method.ContainingType.ToDisplayString() is "System.Linq.Enumerable" or "System.Math"
                || IsTask(method.ReturnType) || CalledForTheirResult.Contains(method.Name));

    private static bool IsTask(ITypeSymbol? type)
        => type is { Name: "Task" or "ValueTask" } && type.ContainingNamespace.ToDisplayString() == "System.Threading.Tasks";

    private static ExpressionSyntax Bare(ExpressionSyntax expression)
        => expression is ParenthesizedExpressionSyntax inner ? Bare(inner.Expression) : expression;
}
