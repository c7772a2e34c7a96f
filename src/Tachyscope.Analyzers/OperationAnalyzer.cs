using System.Collections.Immutable;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;
using Microsoft.CodeAnalysis.Diagnostics;

namespace Tachyscope.Analyzers;

/// <summary>Looks at the operations handed to <c>Baseline</c> and <c>Variant</c>, and at what makes their inputs, for what would spoil the
/// figures.</summary>
[DiagnosticAnalyzer(LanguageNames.CSharp)]
public sealed class OperationAnalyzer : DiagnosticAnalyzer
{
    private const string Library = "Tachyscope";
    private static readonly ImmutableHashSet<string> Operations = ImmutableHashSet.Create("Baseline", "Variant");
    private static readonly ImmutableHashSet<string> Makers = ImmutableHashSet.Create("Input", "Inputs");

    // Types whose methods do nothing but give a result.
    private static readonly ImmutableHashSet<string> Pure = ImmutableHashSet.Create(
        "System.String", "System.Math", "System.Linq.Enumerable", "System.MathF", "System.Numerics.BitOperations");

    private static readonly ImmutableHashSet<string> Slow = ImmutableHashSet.Create(
        "System.Console", "System.Diagnostics.Stopwatch", "System.Diagnostics.Debug", "System.Diagnostics.Trace");

    private static readonly ImmutableHashSet<string> Clocks = ImmutableHashSet.Create(
        "System.DateTime.Now", "System.DateTime.UtcNow", "System.DateTimeOffset.Now", "System.DateTimeOffset.UtcNow",
            "System.Environment.TickCount", "System.Environment.TickCount64");

    /// <inheritdoc/>
    public override ImmutableArray<DiagnosticDescriptor> SupportedDiagnostics { get; } = ImmutableArray.Create(
        Rules.ResultThrownAway, Rules.ClockOrPrinting, Rules.UnseededRandom, Rules.AsyncWithoutTask, Rules.CapturedChanged, Rules.SameCode,
            Rules.TaskNotAwaited, Rules.InputMadeInside, Rules.SequenceAsObject);

    /// <inheritdoc/>
    public override void Initialize(AnalysisContext context)
    {
        context.ConfigureGeneratedCodeAnalysis(GeneratedCodeAnalysisFlags.None);
        context.EnableConcurrentExecution();
        context.RegisterSyntaxNodeAction(Look, SyntaxKind.InvocationExpression);
    }

    private static void Look(SyntaxNodeAnalysisContext context)
    {
        var call = (InvocationExpressionSyntax)context.Node;
        if (call.Expression is not MemberAccessExpressionSyntax { Name.Identifier.ValueText: var name }
            || !(Operations.Contains(name) || Makers.Contains(name))
            || context.SemanticModel.GetSymbolInfo(call, context.CancellationToken).Symbol is not IMethodSymbol method
            || method.ContainingNamespace?.ToDisplayString() != Library)
        {
            return;
        }

        foreach (var lambda in call.ArgumentList.Arguments.Select(argument => argument.Expression)
            .OfType<AnonymousFunctionExpressionSyntax>())
        {
            LookForRandom(context, lambda);
            if (Operations.Contains(name))
            {
                LookInside(context, lambda);
            }
        }

        if (Operations.Contains(name))
        {
            LookForSame(context, call);
        }
    }

    private static void LookInside(SyntaxNodeAnalysisContext context, AnonymousFunctionExpressionSyntax lambda)
    {
        var model = context.SemanticModel;
        if (lambda.AsyncKeyword.RawKind != 0
            && model.GetSymbolInfo(lambda, context.CancellationToken).Symbol is IMethodSymbol { ReturnsVoid: true })
        {
            Tell(context, Rules.AsyncWithoutTask, lambda.AsyncKeyword.GetLocation());
        }

        LookForOwnInput(context, lambda);
        LookForSequence(context, lambda);
        foreach (var node in lambda.Body.DescendantNodesAndSelf())
        {
            switch (node)
            {
                case ExpressionStatementSyntax { Expression: InvocationExpressionSyntax thrown } when model.GetSymbolInfo(thrown,
                    context.CancellationToken).Symbol is IMethodSymbol { ReturnsVoid: false } called:
                    if (IsTask(called.ReturnType))
                    {
                        Tell(context, Rules.TaskNotAwaited, thrown.GetLocation(), thrown);
                    }
                    else if (Pure.Contains(called.ContainingType.ToDisplayString(s_full)))
                    {
                        Tell(context, Rules.ResultThrownAway, thrown.GetLocation(), thrown);
                    }

                    break;
                case MemberAccessExpressionSyntax access when model.GetSymbolInfo(access,
                    context.CancellationToken).Symbol is { IsStatic: true, ContainingType: { } type } member
                    && (Slow.Contains(type.ToDisplayString(s_full)) || Clocks.Contains($"{type.ToDisplayString(s_full)}.{member.Name}")):
                    Tell(context, Rules.ClockOrPrinting, access.GetLocation(), access);
                    break;
                default:
                    LookForChange(context, lambda, node);
                    break;
            }
        }
    }

    // An input that is not used, where the operation makes something to work on; what is prepared once is no such thing.
    private static void LookForOwnInput(SyntaxNodeAnalysisContext context, AnonymousFunctionExpressionSyntax lambda)
    {
        ParameterSyntax[] parameters = lambda switch
        {
            SimpleLambdaExpressionSyntax simple => [simple.Parameter],
            ParenthesizedLambdaExpressionSyntax several => [.. several.ParameterList.Parameters],
            _ => [],
        };
        if (parameters.Length != 1
            || lambda.Body.DescendantNodesAndSelf().OfType<IdentifierNameSyntax>()
                .Any(name => name.Identifier.ValueText == parameters[0].Identifier.ValueText))
        {
            return;
        }

        var made = lambda.Body.DescendantNodesAndSelf().FirstOrDefault(node => node switch
        {
            BaseObjectCreationExpressionSyntax or ArrayCreationExpressionSyntax or ImplicitArrayCreationExpressionSyntax => true,
            InvocationExpressionSyntax { Expression: MemberAccessExpressionSyntax { Name.Identifier.ValueText: "Range" or "Repeat" } } call
                => context.SemanticModel.GetSymbolInfo(call, context.CancellationToken).Symbol?.ContainingType.ToDisplayString(s_full)
                    == "System.Linq.Enumerable",
            _ => false,
        });
        if (made is not null)
        {
            Tell(context, Rules.InputMadeInside, made.GetLocation(), made);
        }
    }

    // As an object, or as a sequence of no type, it is compared and kept as it stands.
    private static void LookForSequence(SyntaxNodeAnalysisContext context, AnonymousFunctionExpressionSyntax lambda)
    {
        var given = lambda.Body is ExpressionSyntax body
            ? [body]
            : lambda.Body.DescendantNodes(node => node == lambda.Body || node is not AnonymousFunctionExpressionSyntax)
                .OfType<ReturnStatementSyntax>().Select(statement => statement.Expression).OfType<ExpressionSyntax>();
        foreach (var expression in given)
        {
            var type = context.SemanticModel.GetTypeInfo(Bare(expression), context.CancellationToken);
            var target = Bare(expression) == expression ? type.ConvertedType
                : context.SemanticModel.GetTypeInfo(expression, context.CancellationToken).Type;
            if (target is { SpecialType: SpecialType.System_Object or SpecialType.System_Collections_IEnumerable }
                && type.Type is { TypeKind: TypeKind.Interface } sequence
                && sequence.AllInterfaces.Add((INamedTypeSymbol)sequence).Any(each
                    => each.OriginalDefinition.SpecialType == SpecialType.System_Collections_Generic_IEnumerable_T)
                && !sequence.AllInterfaces.Add((INamedTypeSymbol)sequence).Any(each
                    => each.OriginalDefinition.SpecialType is SpecialType.System_Collections_Generic_IReadOnlyCollection_T
                        or SpecialType.System_Collections_Generic_ICollection_T))
            {
                context.ReportDiagnostic(Diagnostic.Create(Rules.SequenceAsObject, Bare(expression).GetLocation(),
                    Bare(expression).ToString(), target.ToDisplayString()));
            }
        }
    }

    private static ExpressionSyntax Bare(ExpressionSyntax expression)
        => expression is CastExpressionSyntax { Expression: var inner } ? inner : expression;

    private static void LookForRandom(SyntaxNodeAnalysisContext context, AnonymousFunctionExpressionSyntax lambda)
    {
        foreach (var node in lambda.Body.DescendantNodesAndSelf())
        {
            var isUnseeded = node switch
            {
                BaseObjectCreationExpressionSyntax { ArgumentList: null or { Arguments.Count: 0 } } made
                    => context.SemanticModel.GetTypeInfo(made, context.CancellationToken).Type?.ToDisplayString() == "System.Random",
                MemberAccessExpressionSyntax { Name.Identifier.ValueText: "Shared" } shared
                    => context.SemanticModel.GetSymbolInfo(shared,
                        context.CancellationToken).Symbol?.ContainingType?.ToDisplayString() == "System.Random",
                _ => false,
            };
            if (isUnseeded)
            {
                Tell(context, Rules.UnseededRandom, node.GetLocation(), node);
            }
        }
    }

    private static void LookForChange(SyntaxNodeAnalysisContext context, AnonymousFunctionExpressionSyntax lambda, SyntaxNode node)
    {
        var changed = node switch
        {
            AssignmentExpressionSyntax assignment => assignment.Left,
            PostfixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.PostIncrementExpression
                or (int)SyntaxKind.PostDecrementExpression } step => step.Operand,
            PrefixUnaryExpressionSyntax { RawKind: (int)SyntaxKind.PreIncrementExpression or (int)SyntaxKind.PreDecrementExpression } step
                => step.Operand,
            _ => null,
        };
        if (changed is not null && IsOutside(context.SemanticModel.GetSymbolInfo(changed, context.CancellationToken).Symbol, lambda))
        {
            Tell(context, Rules.CapturedChanged, node.GetLocation(), changed);
        }
    }

    // A variable of the method around, or a static field or property; what belongs to the input is the input's.
    private static bool IsOutside(ISymbol? symbol, SyntaxNode lambda) => symbol switch
    {
        ILocalSymbol or IParameterSymbol => !symbol.DeclaringSyntaxReferences.Any(place => lambda.Span.Contains(place.Span)),
        IFieldSymbol or IPropertySymbol => symbol.IsStatic,
        _ => false,
    };

    // Those further up the chain of calls.
    private static void LookForSame(SyntaxNodeAnalysisContext context, InvocationExpressionSyntax call)
    {
        if (Operation(call) is not { } own)
        {
            return;
        }

        for (var earlier = Before(call); earlier is not null; earlier = Before(earlier))
        {
            if (earlier.Expression is MemberAccessExpressionSyntax { Name.Identifier.ValueText: var name } && Operations.Contains(name)
                && Operation(earlier) is { } other && SyntaxFactory.AreEquivalent(own, other))
            {
                var label = earlier.ArgumentList.Arguments[0].Expression;
                Tell(context, Rules.SameCode, own.GetLocation(), label is LiteralExpressionSyntax literal ? literal.Token.ValueText
                    : label);
                return;
            }
        }
    }

    private static InvocationExpressionSyntax? Before(InvocationExpressionSyntax call)
        => (call.Expression as MemberAccessExpressionSyntax)?.Expression as InvocationExpressionSyntax;

    // With a dial two variants of one code are not the same.
    private static ExpressionSyntax? Operation(InvocationExpressionSyntax call)
        => call.ArgumentList.Arguments.Count == 2 ? call.ArgumentList.Arguments[1].Expression : null;

    private static void Tell(SyntaxNodeAnalysisContext context, DiagnosticDescriptor rule, Location where, object? what = null)
        => context.ReportDiagnostic(Diagnostic.Create(rule, where, what?.ToString()));

    private static bool IsTask(ITypeSymbol type)
        => type is { Name: "Task" or "ValueTask" } && type.ContainingNamespace.ToDisplayString() == "System.Threading.Tasks";

    // With "System.String" instead of the keyword.
    private static readonly SymbolDisplayFormat s_full = new(
        typeQualificationStyle: SymbolDisplayTypeQualificationStyle.NameAndContainingTypesAndNamespaces);
}
