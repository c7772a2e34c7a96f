using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;

namespace Tachyscope.Snippets;

/// <summary>Makes a study of snippets: finds the types of what they use and give, writes a program around them and compiles it.</summary>
public static class SnippetCompiler
{
    /// <summary>Namespaces in scope without being named.</summary>
    public static IReadOnlyList<string> UsualNamespaces { get; } =
    [
        "System", "System.Buffers", "System.Collections", "System.Collections.Concurrent", "System.Collections.Frozen",
            "System.Collections.Generic",
        "System.Collections.Immutable", "System.Globalization", "System.IO", "System.Linq", "System.Numerics",
            "System.Runtime.CompilerServices",
        "System.Runtime.InteropServices", "System.Runtime.Intrinsics", "System.Text", "System.Text.Json", "System.Text.RegularExpressions",
        "System.Threading", "System.Threading.Tasks",
    ];

    // With a lambda, a generic call and an array, as the program around snippets has them.
    private const string Small = """
        using System;
        using System.Linq;
        internal static class Small
        {
            private static int Main(string[] words) => Sum(words.Select(word => word.Length + 1).ToArray(), number => number * 2);
            private static int Sum<T>(T[] all, Func<T, int> value)
            {
                var sum = 0;
                foreach (var one in all) { sum += value(one); }
                return sum;
            }
        }
        """;

    internal static CSharpParseOptions Language { get; } = CSharpParseOptions.Default.WithLanguageVersion(LanguageVersion.Latest);

    private static readonly CSharpCompilationOptions Options =
        new(OutputKind.ConsoleApplication, optimizationLevel: OptimizationLevel.Release, allowUnsafe: true, deterministic: true);

    /// <summary>Makes the study.</summary>
    /// <param name="wish">The snippets and what they need.</param>
    /// <param name="kit">Path of the library that studies are written with, of the framework this process runs on.</param>
    /// <param name="name">Name of the study and of its assembly.</param>
    /// <returns>The program, or what is wrong; nothing is thrown for a mistake in a snippet.</returns>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static MadeStudy Make(SnippetWish wish, string kit, string name)
    {
        ArgumentNullException.ThrowIfNull(wish);
        ArgumentNullException.ThrowIfNull(kit);
        var given = GivenCode.Of(wish.Given);
        var codes = wish.Variants.Select((variant, index) => ParsedCode.Of(variant.Code,
            NameOf(variant, index, wish.Variants.Count))).ToList();
        var inputs = wish.Inputs.Select(text => Assignment.Of("--input", text)).ToList();
        var dial = wish.Dial is null ? default : Assignment.Of("--dial", wish.Dial);
        List<SnippetProblem> problems =
        [
            .. codes.SelectMany(code => code.Problems), .. given.Problems,
                .. inputs.Select(input => input.Problem).OfType<SnippetProblem>(),
            .. dial.Problem is null ? (SnippetProblem[])[] : [dial.Problem],
        ];
        if (problems.Count > 0)
        {
            return new MadeStudy { Problems = problems };
        }

        List<MetadataReference> references =
        [
            .. References.OfFramework().Select(References.Of), References.Of(kit),
            .. wish.References.Concat(wish.Projects).Distinct().Select(References.Of),
        ];
        var compilation = CSharpCompilation.Create(name, references: references, options: Options);
        Rehearse(compilation);
        var plan = new StudyPlan
        {
            Name = name,
            Variants = wish.Variants,
            Codes = codes,
            Given = given,
            Inputs = [.. inputs.Select(input => input.Read!)],
            Dial = dial.Read,
            Usings = [.. UsualNamespaces, .. Namespaces(compilation, wish.Projects), .. wish.Usings],
            Agreement = wish.IsAnyAnswerTaken ? ".Agree(static (_, _) => true)"
                : wish.Tolerance is { } tolerance ? FormattableString.Invariant($".Agree(tolerance: {tolerance:R})") : "",
        };
        var (found, mistakes) = Probe.Look(plan, compilation);
        return found is null ? new MadeStudy { Problems = mistakes } : Compile(plan, found, compilation);
    }

    /// <summary>How a variant is called in a message.</summary>
    internal static string NameOf(Snippet variant, int index, int count)
        => count == 1 ? "the snippet" : variant.Label == variant.Code ? $"snippet {index + 1}" : $"snippet {index + 1} ({variant.Label})";

    // The runtime compiles the compiler while that is at work. What writing a program needs of it is compiled on another processor
    // meanwhile.
    private static void Rehearse(CSharpCompilation compilation)
    {
        if (Environment.ProcessorCount > 1)
        {
            var program = compilation.AddSyntaxTrees(CSharpSyntaxTree.ParseText(Small, Language));
            _ = Task.Run(() => program.Emit(Stream.Null));
        }
    }

    private static MadeStudy Compile(StudyPlan plan, FoundTypes found, CSharpCompilation compilation)
    {
        var text = ProgramText.Of(plan, found);
        var compiled = compilation.AddSyntaxTrees(CSharpSyntaxTree.ParseText(text.ToString(), Language));
        using var assembly = new MemoryStream();
        var emitted = compiled.Emit(assembly);
        return emitted.Success
            ? new MadeStudy { Source = text.ToString(), Assembly = assembly.ToArray(), Doubts = found.Doubts }
            : new MadeStudy { Problems = Probe.Told(emitted.Diagnostics, text) };
    }

    private static IEnumerable<string> Namespaces(CSharpCompilation compilation, IReadOnlyList<string> projects)
        => compilation.References.Where(reference => projects.Contains(reference.Display))
            .Select(compilation.GetAssemblyOrModuleSymbol).OfType<IAssemblySymbol>()
            .SelectMany(assembly => WithTypes(assembly.GlobalNamespace, compilation));

    private static IEnumerable<string> WithTypes(INamespaceSymbol space, CSharpCompilation compilation)
    {
        if (!space.IsGlobalNamespace && space.GetTypeMembers().Any(type => type.CanBeReferencedByName
            && compilation.IsSymbolAccessibleWithin(type, compilation.Assembly)))
        {
            yield return space.ToDisplayString();
        }

        foreach (var inner in space.GetNamespaceMembers().SelectMany(inner => WithTypes(inner, compilation)))
        {
            yield return inner;
        }
    }
}
