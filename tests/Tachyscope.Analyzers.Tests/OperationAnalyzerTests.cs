using System.Collections.Immutable;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CodeActions;
using Microsoft.CodeAnalysis.CodeFixes;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.Diagnostics;
using Tachyscope.CodeFixes;

namespace Tachyscope.Analyzers.Tests;

public sealed class OperationAnalyzerTests
{
    [Theory]
    [InlineData("TACHY01", "text => { text.Trim(); }", "text.Trim()")]
    [InlineData("TACHY01", "text => { text.Where(sign => sign == '.'); return 1; }", "text.Where(sign => sign == '.')")]
    [InlineData("TACHY02", "text => { Console.WriteLine(text); return 1; }", "Console.WriteLine")]
    [InlineData("TACHY02", "text => (int)DateTime.UtcNow.Ticks", "DateTime.UtcNow")]
    [InlineData("TACHY03", "text => text.Length + new Random().Next()", "new Random()")]
    [InlineData("TACHY03", "text => Random.Shared.Next()", "Random.Shared")]
    [InlineData("TACHY04", "async void (string text) => await Task.Delay(1)", "async")]
    [InlineData("TACHY05", "text => { flashes++; return 1; }", "flashes++")]
    [InlineData("TACHY05", "text => { Lamps.Lit = true; return 1; }", "Lamps.Lit = true")]
    [InlineData("TACHY07", "text => { Task.Delay(1); return 1; }", "Task.Delay(1)")]
    [InlineData("TACHY08", "text => Enumerable.Range(0, 240).Sum()", "Enumerable.Range(0, 240)")]
    [InlineData("TACHY08", "_ => { var lamps = new[] { 1, 2 }; return lamps.Length; }", "new[] { 1, 2 }")]
    [InlineData("TACHY09", "text => (object)text.Where(sign => sign == '.')", "text.Where(sign => sign == '.')")]
    [InlineData("TACHY09", "object (string text) => text.Select(sign => sign + 1)", "text.Select(sign => sign + 1)")]
    public async Task What_would_spoil_the_figures_is_told_where_it_is(string rule, string operation, string where)
    {
        var found = await FindAsync($".Baseline(\"one\", {operation})");

        var diagnostic = Assert.Single(found);
        Assert.Equal((rule, where),
            (diagnostic.Id,
            diagnostic.Location.SourceTree!.ToString().Substring(diagnostic.Location.SourceSpan.Start,
            diagnostic.Location.SourceSpan.Length)));
        Assert.Equal($"docs/rules/{rule}.md", diagnostic.Descriptor.HelpLinkUri);
        Assert.True(File.Exists(Path.Combine(AppContext.BaseDirectory, "rules", $"{rule}.md")));
    }

    [Theory]
    [InlineData("text => text.Trim()")]
    [InlineData("text => { var trimmed = text.Trim(); return trimmed; }")]
    [InlineData("text => { var list = new List<char>(text); list.Sort(); return list.Count; }")]
    [InlineData("text => new Random(text.Length).Next()")]
    [InlineData("text => new string('.', text.Length)")]
    [InlineData("_ => 1 + 2")]
    [InlineData("text => text.Where(sign => sign == '.')")]
    [InlineData("text => (object)text.Where(sign => sign == '.').ToArray()")]
    [InlineData("text => (object)text")]
    [InlineData("async text => await Task.FromResult(text.Length)")]
    [InlineData("text => { var own = 0; own++; own += 2; return own; }")]
    [InlineData("text => { foreach (var sign in text) { _ = sign; } return text.Length; }")]
    public async Task What_is_as_it_should_be_is_left_alone(string operation)
        => Assert.Empty(await FindAsync($".Baseline(\"one\", {operation})"));

    [Fact]
    public async Task Two_variants_of_the_same_code_are_told_and_two_settings_of_a_dial_are_not()
    {
        var same = await FindAsync(
            ".Baseline(\"one\", text => text.Length + 1).Variant(\"other\", text => text.Length)"
            + ".Variant(\"again\", text =>   text.Length + 1 /* the same */)");
        var dials = await FindAsync(
            ".Baseline(\"one\", text => text.Length).Variant(\"blocks\", Dial.Over(\"block\", 2), (text, block) => block)"
            + ".Variant(\"more\", Dial.Over(\"block\", 4), (text, block) => block)");

        Assert.Equal("TACHY06", Assert.Single(same).Id);
        Assert.Contains("the same code as \"one\"", same[0].GetMessage(System.Globalization.CultureInfo.InvariantCulture),
            StringComparison.Ordinal);
        Assert.Empty(dials);
    }

    [Fact]
    public async Task An_input_without_a_seed_is_told_too()
        => Assert.Equal("TACHY03",
            Assert.Single(await FindAsync(".Input(\"other\", () => new Random().Next().ToString()).Baseline(\"one\", text => text.Length)"))
                .Id);

    [Theory]
    [InlineData("text => { text.Trim(); return 1; }", "text => { return text.Trim(); }")]
    [InlineData("text => { Console.WriteLine(text); return text.Length; }", "text => { return text.Length; }")]
    [InlineData("text => text.Length + Random.Shared.Next()", "text => text.Length + new Random(1).Next()")]
    [InlineData("async void (string text) => await Task.Delay(1)", "async Task (string text) => await Task.Delay(1)")]
    [InlineData("text => { Task.Delay(1); return 1; }", "async text => { await Task.Delay(1); return 1; }")]
    [InlineData("text => (object)text.Where(sign => sign == '.')", "text => (object)text.Where(sign => sign == '.').ToArray()")]
    public async Task What_has_one_remedy_is_mended(string operation, string mended)
    {
        var chain = $".Baseline(\"one\", {operation})";

        var (changed, left) = await MendAsync(chain);

        Assert.Equal(Text($".Baseline(\"one\", {mended})"), changed);
        Assert.Empty(left);
    }

    [Fact]
    public async Task A_variant_that_is_the_same_code_is_left_out()
    {
        var (changed, left) = await MendAsync(".Baseline(\"one\", text => text.Length).Variant(\"again\", text => text.Length)");

        Assert.Contains("\" lamp \").Baseline(\"one\", text => text.Length);", changed, StringComparison.Ordinal);
        Assert.Empty(left);
    }

    [Theory]
    [InlineData("text => { flashes++; return 1; }")]
    [InlineData("text => (int)DateTime.UtcNow.Ticks")]
    public async Task What_has_several_remedies_is_left_to_its_author(string operation)
        => Assert.Null((await MendAsync($".Baseline(\"one\", {operation})")).Changed);

    private static async Task<(string? Changed, ImmutableArray<Diagnostic> Left)> MendAsync(string chain)
    {
        var none = TestContext.Current.CancellationToken;
        using var workspace = new AdhocWorkspace();
        var document = workspace.AddProject("lamps", LanguageNames.CSharp).AddDocument("Lamps.cs", Text(chain));
        var found = Assert.Single(await FindAsync(Compiled(Text(chain))));
        var actions = new List<CodeAction>();
        await new OperationFixes().RegisterCodeFixesAsync(new CodeFixContext(document, found, (action, _) => actions.Add(action), none));
        if (actions.Count == 0)
        {
            return (null, [found]);
        }

        var done = Assert.IsType<ApplyChangesOperation>(Assert.Single(await Assert.Single(actions).GetOperationsAsync(none)));
        var changed = (await done.ChangedSolution.GetDocument(document.Id)!.GetTextAsync(none)).ToString();
        return (changed, await FindAsync(Compiled(changed)));
    }

    private static Task<ImmutableArray<Diagnostic>> FindAsync(string chain) => FindAsync(Compiled(Text(chain)));

    private static async Task<ImmutableArray<Diagnostic>> FindAsync(CSharpCompilation compilation)
    {
        Assert.Empty(compilation.GetDiagnostics().Where(diagnostic => diagnostic.Severity == DiagnosticSeverity.Error));
        return await compilation.WithAnalyzers([new OperationAnalyzer()])
            .GetAnalyzerDiagnosticsAsync(TestContext.Current.CancellationToken);
    }

    private static string Text(string chain) => $$"""
            using System; using System.Collections.Generic; using System.Linq; using System.Threading.Tasks; using Tachyscope;
            static class Lamps
            {
                public static bool Lit;
                public static object Made()
                {
                    var flashes = 0;
                    return Study.Of("lamps").Input("a text", () => " lamp "){{chain}};
                }
            }
            """;

    private static CSharpCompilation Compiled(string text)
    {
        var references = ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!).Split(Path.PathSeparator)
            .Select(path => MetadataReference.CreateFromFile(path));
        return CSharpCompilation.Create("lamps", [CSharpSyntaxTree.ParseText(text)], references,
            new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary));
    }
}
