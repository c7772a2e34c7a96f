namespace Tachyscope.Snippets;

/// <summary>All that a program is made of, taken apart.</summary>
internal sealed record StudyPlan
{
    /// <summary>The variable that holds the run's seed.</summary>
    public const string Seed = "seed";

    public required string Name { get; init; }

    public required IReadOnlyList<Snippet> Variants { get; init; }

    public required IReadOnlyList<ParsedCode> Codes { get; init; }

    public required GivenCode Given { get; init; }

    public required IReadOnlyList<Assignment> Inputs { get; init; }

    public required Assignment? Dial { get; init; }

    public required IReadOnlyList<string> Usings { get; init; }

    /// <summary>How answers agree, as a study says it; nothing where they are the same.</summary>
    public required string Agreement { get; init; }

    /// <summary>What lets snippets use pointers; where anything awaits, the language forbids it.</summary>
    public string Unsafe => Given.IsAnyAwaited || Codes.Any(code => code.IsAnyAwaited) ? "" : "unsafe ";

    /// <summary>How a variant is called in a message.</summary>
    public string NameOf(int index) => SnippetCompiler.NameOf(Variants[index], index, Variants.Count);

    public void AddUsingsTo(MarkedText text)
    {
        foreach (var space in Usings.Distinct())
        {
            text.Add("using ").AddCode("--using", space).Add(";\n");
        }

        Add(text, Given.Usings, code => code.Usings);
    }

    public void AddTypesTo(MarkedText text) => Add(text, Given.Types, code => code.Types);

    // What several bring in the same words is there once.
    private void Add(MarkedText text, IEnumerable<string> given, Func<ParsedCode, IEnumerable<string>> own)
    {
        var all = given.Select(part => (Name: GivenCode.Name, Part: part))
            .Concat(Codes.SelectMany((code, index) => own(code).Select(part => (Name: NameOf(index), Part: part))));
        foreach (var (name, part) in all.DistinctBy(named => named.Part))
        {
            text.AddCode(name, part).Add("\n");
        }
    }
}

/// <summary>A variable that variants use, and its type as a program writes it.</summary>
internal sealed record Variable(string Name, string Type);

/// <summary>What the compiler knows of the snippets.</summary>
internal sealed record FoundTypes
{
    /// <summary>Types of the variables of the inputs, in their order.</summary>
    public required IReadOnlyList<string> InputTypes { get; init; }

    /// <summary>Whether all values of an input's variable are whole numbers of 0 or more: sizes.</summary>
    public required IReadOnlyList<bool> AreSizes { get; init; }

    /// <summary>Variables that any variant uses, the dial left out.</summary>
    public required IReadOnlyList<Variable> Used { get; init; }

    /// <summary>What each variant gives back, as a method says it.</summary>
    public required IReadOnlyList<VariantType> Variants { get; init; }

    public required IReadOnlyList<SnippetProblem> Doubts { get; init; }
}

/// <param name="Result">What its method gives back.</param>
/// <param name="Delegate">The type of delegate that it is handed over as, the input left open as {0}.</param>
internal sealed record VariantType(string Result, string Delegate)
{
    /// <summary>Names of the variables it uses.</summary>
    public IReadOnlyList<string> Uses { get; init; } = [];

    /// <summary>Names of the given functions it calls.</summary>
    public IReadOnlyList<string> Functions { get; init; } = [];

    /// <summary>Whether it gives anything, at once or by a task.</summary>
    public bool IsAnswered => Result != "void" && !Result.EndsWith(".Tasks.Task", StringComparison.Ordinal)
        && !Result.EndsWith(".Tasks.ValueTask", StringComparison.Ordinal);
}
