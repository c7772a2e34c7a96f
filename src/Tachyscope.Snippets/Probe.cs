using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>
/// A first program in which every snippet is a lambda beside what is given, made only to ask the compiler for types and mistakes.
/// </summary>
internal static class Probe
{
    private const string Lambda = "__tachyscope_";
    private const int MostTold = 5;

    public static (FoundTypes? Found, IReadOnlyList<SnippetProblem> Problems) Look(StudyPlan plan, CSharpCompilation compilation)
    {
        var text = Written(plan);
        var tree = CSharpSyntaxTree.ParseText(text.ToString(), SnippetCompiler.Language);
        var compiled = compilation.AddSyntaxTrees(tree);
        var model = compiled.GetSemanticModel(tree);
        var locals = tree.GetRoot().DescendantNodes().OfType<VariableDeclaratorSyntax>()
            .Where(local => local.Identifier.Text.StartsWith(Lambda, StringComparison.Ordinal)).ToList();
        List<LambdaExpressionSyntax> lambdas = [.. locals.Select(local => local.Initializer?.Value).OfType<LambdaExpressionSyntax>()];
        var look = new TypeLook(plan, compiled, model, text, lambdas);
        // Before the compiler's own words for the same, which speak of the lambda that nobody wrote.
        List<SnippetProblem> senseless = [.. lambdas.SelectMany(lambda => Senses.Problems(lambda, model, text)), .. look.Unkept()];
        if (senseless.Count > 0)
        {
            return (null, senseless);
        }

        var mistakes = Told(compiled.GetDiagnostics(), text);
        if (mistakes.Count > 0)
        {
            return (null, mistakes);
        }

        var found = look.Find();
        return look.Problems.Count > 0 ? (null, look.Problems) : (found, []);
    }

    /// <summary>The compiler's errors at the snippets they came from.</summary>
    public static IReadOnlyList<SnippetProblem> Told(IEnumerable<Diagnostic> diagnostics, MarkedText text)
    {
        var errors = diagnostics.Where(diagnostic => diagnostic.Severity == DiagnosticSeverity.Error)
            .OrderBy(diagnostic => diagnostic.Location.SourceSpan.Start).ToList();
        // What follows from a name that is there twice tells nothing more.
        var twice = errors.FindAll(error => error.Id == MarkedText.DeclaredTwice);
        return [.. (twice.Count > 0 ? twice : errors)
            .Select(text.Problem).DistinctBy(problem => (problem.Line, problem.Column)).Take(MostTold)];
    }

    // What is given comes in its order, so that the variables of the inputs are known to it, and all of them to the variants.
    private static MarkedText Written(StudyPlan plan)
    {
        var text = new MarkedText();
        plan.AddUsingsTo(text);
        plan.AddTypesTo(text);
        text.Add($"static {plan.Unsafe}class {Lambda}Probe {{ static void Main() {{\nint {StudyPlan.Seed} = 1;\n");
        foreach (var input in plan.Inputs)
        {
            text.Add($"var {input.Name} = new[] {{ ").AddCode(input.Option, input.Code).Add("\n}[0];\n");
        }

        if (plan.Dial is { } dial)
        {
            text.Add($"int {dial.Name} = new int[] {{ ").AddCode(dial.Option, dial.Code).Add("\n}[0];\n");
        }

        plan.Given.AddStatementsTo(text);
        for (var index = 0; index < plan.Codes.Count; index++)
        {
            var code = plan.Codes[index];
            text.Add($"var {Lambda}{index} = {(code.IsAwaiting ? "async " : "")}() => {(code.IsExpression ? "" : "{ ")}")
                .AddCode(plan.NameOf(index), code.Code).Add(code.IsExpression ? "\n;\n" : "\n};\n");
        }

        return text.Add("} }\n");
    }
}
