using System.Text.RegularExpressions;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Tachyscope.Snippets;

/// <summary>A variable and the values it takes in turn: "n = 10, 100, 1000".</summary>
internal sealed partial record Assignment(string Option, string Name, string Code, IReadOnlyList<string> Values)
{
    public static (Assignment? Read, SnippetProblem? Problem) Of(string option, string text)
    {
        var parts = Parts().Match(text);
        if (!parts.Success)
        {
            return (null, new SnippetProblem($"{option} \"{text}\": name a variable and its values, as in {option} 'n = 10, 100, 1000'."));
        }

        var code = parts.Groups["values"].Value;
        var array = SyntaxFactory.ParseExpression($"new[] {{ {code}\n}}", options: SnippetCompiler.Language);
        var read = array is ImplicitArrayCreationExpressionSyntax { ContainsDiagnostics: false } made
            ? made.Initializer.Expressions : default;
        if (read.OfType<CollectionExpressionSyntax>().FirstOrDefault() is { } bracketed)
        {
            return (null, new SnippetProblem($"{option} \"{text}\": {bracketed} has no type of its own; list values without brackets, as "
                + $"in {option} 'n = 10, 100', or write an array as new[] {{ 10, 100 }}."));
        }

        return read.Count > 0
            ? (new Assignment(option, parts.Groups["name"].Value, code,
                [.. read.Select(value => value.ToString().Trim())]), null)
            : (null,
                new SnippetProblem(
                    $"{option} \"{text}\": the values are no list of C# expressions; set them apart by commas, "
                        + $"as in {option} 'n = 10, 100'."));
    }

    [GeneratedRegex(@"^\s*(?<name>[\p{L}_][\p{L}\p{N}_]*)\s*=(?!=)\s*(?<values>\S.*)$", RegexOptions.Singleline)]
    private static partial Regex Parts();
}
