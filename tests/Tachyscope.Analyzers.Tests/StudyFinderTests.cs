using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;

namespace Tachyscope.Analyzers.Tests;

public sealed class StudyFinderTests
{
    private const string Harbour = """
        using Tachyscope;
        namespace Harbour;

        public static class Lamps
        {
            public static Study Signals => Study.Of("signals").Input("one", () => 1).Baseline("echo", one => one);
            internal static Study Flashes() => Signals;
            public static readonly Study Kept = Signals;
            private static Study Hidden => Signals;
            public static Study Of(int count) => Signals;
            public static Study Family<T>() => Signals;
            public static string Name => "lamps";
            public Study Own => Signals;
        }

        public class Fog<T> { public static Study Thick => Lamps.Signals; }
        file static class Here { public static Study Near => Lamps.Signals; }
        """;

    [Fact]
    public void Every_study_that_the_program_may_see_is_told_once_in_the_order_of_the_text()
    {
        var (output, generated) = Generate(Harbour, OutputKind.ConsoleApplication);

        Assert.Empty(output.GetDiagnostics().Where(diagnostic => diagnostic.Severity == DiagnosticSeverity.Error
            && diagnostic.Id is not ("CS0708" or "CS5001")));
        var text = Assert.Single(generated);
        Assert.Equal(
            ["global::Harbour.Lamps.@Signals,", "global::Harbour.Lamps.@Flashes(),", "global::Harbour.Lamps.@Kept,"],
            text.Split('\n').Select(line => line.Trim()).Where(line => line.StartsWith("global::Harbour", StringComparison.Ordinal)));
        Assert.Contains("=> global::Tachyscope.Studies.Found(", text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_library_and_a_program_without_studies_get_nothing()
    {
        Assert.Empty(Generate(Harbour, OutputKind.DynamicallyLinkedLibrary).Generated);
        Assert.Empty(Generate(Harbour, OutputKind.ConsoleApplication, LanguageVersion.CSharp8).Generated);
        Assert.Empty(Generate("class Lamps { static void Main() { } }", OutputKind.ConsoleApplication).Generated);
    }

    private static (Compilation Output, IReadOnlyList<string> Generated) Generate(
        string text, OutputKind kind, LanguageVersion language = LanguageVersion.Latest)
    {
        var references = ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!).Split(Path.PathSeparator)
            .Select(path => MetadataReference.CreateFromFile(path));
        var compilation = CSharpCompilation.Create("harbour", [CSharpSyntaxTree.ParseText(text, new(language))], references,
            new CSharpCompilationOptions(kind));
        var result = CSharpGeneratorDriver.Create(new StudyFinder()).RunGeneratorsAndUpdateCompilation(compilation, out var output,
            out _).GetRunResult();
        return (output, [.. result.GeneratedTrees.Select(tree => tree.ToString())]);
    }
}
