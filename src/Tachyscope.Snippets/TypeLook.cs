using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>Asks the compiler what the variants use and give.</summary>
internal sealed class TypeLook(
    StudyPlan plan, CSharpCompilation compilation, SemanticModel model, MarkedText text, IReadOnlyList<LambdaExpressionSyntax> lambdas)
{
    private static readonly SymbolDisplayFormat Written = SymbolDisplayFormat.FullyQualifiedFormat;

    private readonly List<SnippetProblem> _problems = [];

    public IReadOnlyList<SnippetProblem> Problems => _problems;

    public FoundTypes Find()
    {
        var uses = lambdas.Select(Uses).ToList();
        var used = uses.SelectMany(own => own).DistinctBy(local => local.Name).Where(local => local.Name != plan.Dial?.Name).ToList();
        CheckDial(uses);
        var names = used.Select(local => local.Name).ToHashSet(StringComparer.Ordinal);
        var results = lambdas.Select((lambda, index) => Result(lambda, index)).ToList();
        return new FoundTypes
        {
            InputTypes = [.. plan.Inputs.Select(input => TypeOf(input.Name))],
            AreSizes = [.. plan.Inputs.Select(IsSizes)],
            Used = [.. used.Select(local => new Variable(local.Name, local.Type.ToDisplayString(Written)))],
            Variants = _problems.Count > 0 ? []
                : [.. Answers(results).Select((answer, index) => answer with
                {
                    Uses = [.. uses[index].Select(local => local.Name)],
                    Functions = [.. Called(lambdas[index]).Select(function => function.Identifier.ValueText)],
                })],
            Doubts = [.. lambdas.SelectMany(lambda => Senses.Doubts(lambda, model, text, names))],
        };
    }

    /// <summary>Variables that are used and cannot be kept from call to call.</summary>
    public IEnumerable<SnippetProblem> Unkept()
        => lambdas.SelectMany(Uses).DistinctBy(local => local.Name).Select(Unkept).OfType<SnippetProblem>();

    // Those of functions that it calls count as the variant's, which has the functions too.
    private List<ILocalSymbol> Uses(LambdaExpressionSyntax lambda)
        => [.. Called(lambda).Cast<SyntaxNode>().Prepend(lambda).SelectMany(node => Outside(node))
            .Distinct<ILocalSymbol>(SymbolEqualityComparer.Default)];

    // Functions that are given and named in a variant, or in those that it names. Others would cost it what they capture.
    private List<LocalFunctionStatementSyntax> Called(LambdaExpressionSyntax lambda)
    {
        List<LocalFunctionStatementSyntax> called = [];
        var given = Around.Statements.OfType<LocalFunctionStatementSyntax>().ToList();
        Queue<SyntaxNode> looked = new([lambda]);
        while (looked.TryDequeue(out var node))
        {
            var named = node.DescendantTokens().Where(token => token.IsKind(SyntaxKind.IdentifierToken))
                .Select(token => token.ValueText).ToHashSet(StringComparer.Ordinal);
            foreach (var function in given.FindAll(function => named.Contains(function.Identifier.ValueText)
                && !called.Contains(function)))
            {
                called.Add(function);
                looked.Enqueue(function);
            }
        }

        return called;
    }

    private IEnumerable<ILocalSymbol> Outside(SyntaxNode node)
        => node.DescendantNodes().OfType<IdentifierNameSyntax>()
            .Select(name => model.GetSymbolInfo(name).Symbol).OfType<ILocalSymbol>()
            .Where(local => !node.Span.Contains(local.DeclaringSyntaxReferences[0].Span));

    private static SnippetProblem? Unkept(ILocalSymbol local)
        => local.Type.IsRefLikeType || local.IsRef
            ? new SnippetProblem($"--given makes {local.Name}, a {local.Type.ToDisplayString()}, which cannot be kept from call to call; "
                + "keep an array, and make the span in the snippet.")
            : IsUnspeakable(local.Type)
                ? new SnippetProblem($"--given makes {local.Name} of an anonymous type, which cannot be handed over; "
                    + "use a tuple, or declare a record in --given.")
                : null;

    private void CheckDial(List<List<ILocalSymbol>> uses)
    {
        if (plan.Dial is not { } dial)
        {
            return;
        }

        bool Turns(int index) => uses[index].Exists(local => local.Name == dial.Name);
        if (Turns(0))
        {
            _problems.Add(new SnippetProblem($"the first snippet is what the others are compared with and has no dial, and it uses "
                + $"{dial.Name}; put one without it first."));
        }
        else if (!Enumerable.Range(0, uses.Count).Any(Turns))
        {
            _problems.Add(new SnippetProblem($"no snippet uses {dial.Name} of --dial; use it, or leave --dial out."));
        }
    }

    // The method that all lambdas stand in; types that are given may have variables of the same names.
    private BlockSyntax Around => lambdas[0].FirstAncestorOrSelf<MethodDeclarationSyntax>()!.Body!;

    private VariableDeclaratorSyntax Declared(string variable)
        => Around.Statements.OfType<LocalDeclarationStatementSyntax>().SelectMany(line => line.Declaration.Variables)
            .First(local => local.Identifier.ValueText == variable);

    private string TypeOf(string variable) => ((ILocalSymbol)model.GetDeclaredSymbol(Declared(variable))!).Type.ToDisplayString(Written);

    private bool IsSizes(Assignment input)
    {
        var values = Declared(input.Name).DescendantNodes().OfType<InitializerExpressionSyntax>().First().Expressions;
        return TypeOf(input.Name) == "int" && values.All(value => model.GetConstantValue(value) is { HasValue: true, Value: int and >= 0 });
    }

    // What a block ends with and does not return.
    private ExpressionSyntax? Forgotten(LambdaExpressionSyntax lambda)
        => lambda.Block?.Statements.LastOrDefault(line => line is not LocalFunctionStatementSyntax) is ExpressionStatementSyntax last
            && model.GetTypeInfo(last.Expression).Type is { SpecialType: not SpecialType.System_Void } ? last.Expression : null;

    private ITypeSymbol Result(LambdaExpressionSyntax lambda, int index)
    {
        var declared = (ILocalSymbol)model.GetDeclaredSymbol((VariableDeclaratorSyntax)lambda.Parent!.Parent!)!;
        var result = ((INamedTypeSymbol)declared.Type).DelegateInvokeMethod!.ReturnType;
        var name = plan.NameOf(index);
        if (IsUnspeakable(Awaited(result) ?? result))
        {
            _problems.Add(new SnippetProblem($"{name} gives an anonymous type, which no other can give; give a tuple."));
        }
        else if (result.IsRefLikeType && SpanItem(result) is null)
        {
            _problems.Add(new SnippetProblem($"{name} gives a {result.ToDisplayString()}, which cannot be kept; "
                + "give what you need of it."));
        }

        return result;
    }

    // One type for all answers, as the library asks; tasks beside plain answers are awaited.
    private List<VariantType> Answers(List<ITypeSymbol> results)
    {
        if (results.TrueForAll(result => SpanItem(result) is not null) && SameAs(results))
        {
            var kind = results[0].Name == "Span" ? "SpanOperation" : "ReadOnlySpanOperation";
            var item = SpanItem(results[0])!.ToDisplayString(Written);
            return [.. results.Select(result => new VariantType(result.ToDisplayString(Written),
                $"global::Tachyscope.{kind}<{{0}}, {item}>"))];
        }

        var answers = results.ConvertAll(result => Awaited(result) ?? result);
        var silent = answers.FindAll(IsNothing).Count;
        if (silent > 0 && silent < answers.Count)
        {
            var (nothing, something) = (answers.FindIndex(IsNothing), answers.FindIndex(answer => !IsNothing(answer)));
            var answer = $"snippet {something + 1} gives {answers[something].ToDisplayString()}";
            _problems.Add(Forgotten(lambdas[nothing]) is { } value
                ? text.Problem(value.Span, $"is not given back, and {answer}; write 'return {value};'.")
                : new SnippetProblem($"snippet {nothing + 1} gives nothing back and {answer}, so that their answers cannot be compared; "
                    + "end each with the answer."));
            return [];
        }

        if (answers.Exists(answer => answer.IsRefLikeType) && !SameAs(answers))
        {
            _problems.Add(new SnippetProblem("some snippets give spans and others do not; end those with .ToArray()."));
            return [];
        }

        var common = silent > 0 ? null : Common(answers).ToDisplayString(Written);
        return results.ConvertAll(result => Of(result, common));
    }

    private VariantType Of(ITypeSymbol result, string? common)
    {
        var isAwaited = Awaited(result) is not null;
        var task = $"global::System.Threading.Tasks.{(isAwaited ? result.Name : "")}";
        var written = !isAwaited ? common ?? "void" : common is null ? task : $"{task}<{common}>";
        return new VariantType(written, written == "void" ? "global::System.Action<{0}>" : $"global::System.Func<{{0}}, {written}>");
    }

    private ITypeSymbol Common(List<ITypeSymbol> answers)
    {
        if (SameAs(answers))
        {
            return answers[0];
        }

        // What all others convert to by themselves, numbers to wider ones.
        if (answers.Find(candidate => answers.TrueForAll(answer => compilation.ClassifyConversion(answer, candidate) is { IsImplicit: true,
            IsUserDefined: false })) is { } widest)
        {
            return widest;
        }

        var sequence = compilation.GetSpecialType(SpecialType.System_Collections_Generic_IEnumerable_T);
        var items = answers.ConvertAll(answer => answer.AllInterfaces.Append(answer as INamedTypeSymbol)
            .FirstOrDefault(found => SymbolEqualityComparer.Default.Equals(found?.OriginalDefinition, sequence))?.TypeArguments[0]);
        var isEach = items.TrueForAll(item => item is not null && SymbolEqualityComparer.Default.Equals(item, items[0]));
        // One that is only made while it is gone through has to be gone through; finished collections are compared as they are.
        return isEach && answers.Exists(answer => answer.TypeKind == TypeKind.Interface)
            ? sequence.Construct(items[0]!)
            : compilation.GetSpecialType(SpecialType.System_Object);
    }

    private static bool SameAs(List<ITypeSymbol> types) => types.TrueForAll(type => SymbolEqualityComparer.Default.Equals(type, types[0]));

    private static bool IsNothing(ITypeSymbol type) => type.SpecialType == SpecialType.System_Void;

    // What a task yields, void for none; null where it is no task.
    private ITypeSymbol? Awaited(ITypeSymbol type)
        => type is INamedTypeSymbol { Name: "Task" or "ValueTask" } task
            && task.ContainingNamespace.ToDisplayString() == "System.Threading.Tasks"
            ? task.TypeArguments.Length == 1 ? task.TypeArguments[0] : compilation.GetSpecialType(SpecialType.System_Void)
            : null;

    private static ITypeSymbol? SpanItem(ITypeSymbol type)
        => type is INamedTypeSymbol { Name: "Span" or "ReadOnlySpan", TypeArguments: [var item], ContainingNamespace.Name: "System" }
            ? item : null;

    private static bool IsUnspeakable(ITypeSymbol type)
        => type.IsAnonymousType || type is IArrayTypeSymbol { ElementType.IsAnonymousType: true }
            || (type is INamedTypeSymbol named && named.TypeArguments.Any(IsUnspeakable));
}
