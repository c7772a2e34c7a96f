using System.Globalization;

namespace Tachyscope.Snippets;

/// <summary>The program that measures the snippets: each a method of its own, as one would write it.</summary>
internal static class ProgramText
{
    private const string Kept = "__TachyscopeGiven";
    private const string Parameter = "__given";

    public static MarkedText Of(StudyPlan plan, FoundTypes found)
    {
        var text = new MarkedText();
        plan.AddUsingsTo(text);
        text.Add("using static global::Tachyscope.StudyDraftOfShapes;\n\n");
        plan.AddTypesTo(text);
        AddInput(text, plan, found);
        text.Add($"internal static {plan.Unsafe}class Snippets\n{{\n");
        for (var index = 0; index < plan.Codes.Count; index++)
        {
            AddVariant(text, plan, found, index);
        }

        AddStudy(text, plan, found);
        return text.Add("}\n");
    }

    // A single variable is the input itself, so that it is read as any argument is; several are fields of one.
    private static string InputType(FoundTypes found) => found.Used.Count switch
    {
        0 => "int",
        1 => found.Used[0].Type,
        _ => Kept,
    };

    private static void AddInput(MarkedText text, StudyPlan plan, FoundTypes found)
    {
        text.Add($"internal sealed {plan.Unsafe}class {Kept}\n{{\n");
        foreach (var variable in found.Used.Where(_ => found.Used.Count > 1))
        {
            text.Add($"    public {variable.Type} @{variable.Name};\n");
        }

        var parameters = string.Concat(plan.Inputs.Select((input, index) => $", {found.InputTypes[index]} @{input.Name}"));
        text.Add($"\n    public static {InputType(found)} Make(int {StudyPlan.Seed}{parameters})\n    {{\n");
        plan.Given.AddStatementsTo(text);
        var made = found.Used.Count switch
        {
            0 => StudyPlan.Seed,
            1 => $"@{found.Used[0].Name}",
            _ => $"new {Kept} {{ {string.Join(", ", found.Used.Select(variable => $"@{variable.Name} = @{variable.Name}"))} }}",
        };
        text.Add($"        return {made};\n    }}\n}}\n\n");
    }

    private static void AddVariant(MarkedText text, StudyPlan plan, FoundTypes found, int index)
    {
        var (code, type) = (plan.Codes[index], found.Variants[index]);
        var dial = Turns(plan, type) ? $", int @{plan.Dial!.Name}" : "";
        var own = found.Used.Count == 1 ? $"@{found.Used[0].Name}" : Parameter;
        text.Add($"    private static {(code.IsAwaiting ? "async " : "")}{type.Result} V{index}({InputType(found)} {own}{dial})\n    {{\n");
        foreach (var variable in found.Used.Where(variable => found.Used.Count > 1 && type.Uses.Contains(variable.Name)))
        {
            text.Add($"        var @{variable.Name} = {Parameter}.@{variable.Name};\n");
        }

        plan.Given.AddFunctionsTo(text, type.Functions);
        var gives = type.Result is "void" || (code.IsAwaiting && !type.Result.Contains('<', StringComparison.Ordinal)) ? "" : "return ";
        text.Add(code.IsExpression ? $"        {gives}" : "        ")
            .AddCode(plan.NameOf(index), code.Code)
            .Add(code.IsExpression ? "\n        ;\n    }\n\n" : "\n    }\n\n");
    }

    private static bool Turns(StudyPlan plan, VariantType type) => plan.Dial is { } dial && type.Uses.Contains(dial.Name);

    private static void AddStudy(MarkedText text, StudyPlan plan, FoundTypes found)
    {
        text.Add("    private static global::System.Threading.Tasks.Task<int> Main(string[] arguments)\n");
        text.Add("        => global::Tachyscope.Studies.RunAsync(arguments, Made());\n\n");
        text.Add($"    private static global::Tachyscope.Study Made() => global::Tachyscope.Study.Of({Quoted(plan.Name)})\n");
        AddInputs(text, plan, found);
        for (var index = 0; index < plan.Codes.Count; index++)
        {
            var type = found.Variants[index];
            var (role, label) = (index == 0 ? "Baseline" : "Variant", Quoted(plan.Variants[index].Label));
            var operation = string.Format(CultureInfo.InvariantCulture, type.Delegate, InputType(found));
            text.Add(Turns(plan, type)
                ? $"        .{role}({label}, global::Tachyscope.Dial.Over({Quoted(plan.Dial!.Name)}, {plan.Dial.Code}), V{index})\n"
                : $"        .{role}({label}, new {operation}(V{index}))\n");
        }

        // Of nothing there is nothing to agree on.
        text.Add($"        {(found.Variants.Any(type => type.IsAnswered) ? plan.Agreement : "")};\n");
    }

    private static void AddInputs(MarkedText text, StudyPlan plan, FoundTypes found)
    {
        var inputs = plan.Inputs;
        if (inputs.Count is 1 or 2 && found.AreSizes.All(isSize => isSize))
        {
            // Two sizes leave no room for the seed, which is then always the first.
            var seed = inputs.Count == 1 ? StudyPlan.Seed : "1";
            var sizes = inputs.Select(input => $"{Quoted(input.Name)}, new[] {{ {input.Code} }}");
            var parameters = inputs.Select(input => $"int @{input.Name}").Concat(inputs.Count == 1 ? [$"int {StudyPlan.Seed}"] : []);
            text.Add($"        .Inputs({string.Join(", ", sizes)}, ({string.Join(", ", parameters)}) => ")
                .Add($"{Made(seed, inputs.Select(input => $"@{input.Name}"))})\n");
            return;
        }

        IEnumerable<(string Label, string[] Values)> all = [("", [])];
        foreach (var input in inputs)
        {
            all = all.SelectMany(one => input.Values.Select(value => (Labelled(one.Label, input.Name, value),
                (string[])[.. one.Values, value])));
        }

        var alone = plan.Given.Statements.Count > 0 ? "as given" : "nothing given";
        foreach (var (label, values) in all)
        {
            var named = Quoted(label.Length > 0 ? label : alone);
            text.Add($"        .Input({named}, (int {StudyPlan.Seed}) => {Made(StudyPlan.Seed, values)})\n");
        }
    }

    private static string Made(string seed, IEnumerable<string> values) => $"{Kept}.Make({string.Join(", ", values.Prepend(seed))})";

    private static string Labelled(string before, string name, string value)
        => $"{before}{(before.Length > 0 ? ", " : "")}{name} = {value}";

    private static string Quoted(string value) => Microsoft.CodeAnalysis.CSharp.SymbolDisplay.FormatLiteral(value, quote: true);
}
