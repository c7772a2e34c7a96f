using System.Collections.Immutable;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.Diagnostics;

namespace Tachyscope.Analyzers.Tests;

public sealed class OperationAnalyzerTests
{
    [Theory]
    [InlineData("TACHY01", "text => { text.Trim(); }", "text.Trim()")]
    [InlineData("TACHY01", "text => { text.Where(sign => sign == '.'); return 1; }", "text.Where(sign => sign == '.')")]
    [InlineData("TACHY02", "text => { Console.WriteLine(text); return 1; }", "Console.WriteLine")]
    [InlineData("TACHY02", "text => (int)DateTime.UtcNow.Ticks", "DateTime.UtcNow")]
    [InlineData("TACHY03", "text => new Random().Next()", "new Random()")]
    [InlineData("TACHY03", "text => Random.Shared.Next()", "Random.Shared")]
    [InlineData("TACHY04", "async void (string text) => await Task.Delay(1)", "async")]
    [InlineData("TACHY05", "text => { flashes++; return 1; }", "flashes++")]
    [InlineData("TACHY05", "text => { Lamps.Lit = true; return 1; }", "Lamps.Lit = true")]
    [InlineData("TACHY07", "text => { Task.Delay(1); return 1; }", "Task.Delay(1)")]
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
    [InlineData("text => new Random(1).Next()")]
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

    private static async Task<ImmutableArray<Diagnostic>> FindAsync(string chain)
    {
        var text = $$"""
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
        var references = ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!).Split(Path.PathSeparator)
            .Select(path => MetadataReference.CreateFromFile(path));
        var compilation = CSharpCompilation.Create("lamps", [CSharpSyntaxTree.ParseText(text)], references,
            new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary));
        Assert.Empty(compilation.GetDiagnostics().Where(diagnostic => diagnostic.Severity == DiagnosticSeverity.Error));
        return await compilation.WithAnalyzers([new OperationAnalyzer()])
            .GetAnalyzerDiagnosticsAsync(TestContext.Current.CancellationToken);
    }
}
