using Tachyscope.Code.Facts;
using Tachyscope.Code.Variants;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Codes;

/// <summary>Puts what was made of a study's variants into words, figures and lines. Pure.</summary>
public static class CodeReporter
{
    private static readonly (string What, Func<CodeFacts, int> Count)[] s_counts =
    [
        ("instructions", facts => facts.Instructions), ("bytes of code", facts => facts.Bytes),
            ("methods it lies in", facts => facts.Methods),
        ("loops", facts => facts.Loops), ("loops within each other", facts => facts.LoopDepth), ("branches", facts => facts.Branches),
            ("calls", facts => facts.Calls),
        ("indirect calls", facts => facts.IndirectCalls), ("loads", facts => facts.Loads), ("stores", facts => facts.Stores),
        ("kept in its frame", facts => facts.Spills), ("bounds checks", facts => facts.BoundsChecks),
            ("divisions", facts => facts.Divisions),
        ("allocations", facts => facts.Allocations), ("type checks", facts => facts.TypeChecks),
        ("write barriers", facts => facts.WriteBarriers), ("other helpers", facts => facts.OtherHelpers),
            ("atomic instructions", facts => facts.Atomics), ("vector instructions", facts => facts.Vectors),
    ];

    /// <summary>What is to be shown.</summary>
    /// <param name="study">Name of the study.</param>
    /// <param name="codes">Its variants, target by target; those to be shown only.</param>
    /// <param name="blocks">What of their code is to be shown, of <see cref="CodeBlocks.Words"/>.</param>
    /// <param name="why">What may make one slower than another, where that was looked into.</param>
    public static CodeReport Of(
        string study, IReadOnlyList<VariantCode> codes, IReadOnlyList<string> blocks, IReadOnlyList<(Tone Tone, string Text)>? why = null)
    {
        ArgumentNullException.ThrowIfNull(codes);
        ArgumentNullException.ThrowIfNull(blocks);
        var targets = codes.Select(code => code.Target).Distinct().Where(target => target.Length > 0).ToList();
        codes = Once(codes);
        var counted = codes.Where(code => code.Facts is not null).ToList();
        return new CodeReport
        {
            Title = targets.Count == 0 ? $"{study} · its code" : $"{study} · its code on {Wording.List(targets)}",
            Sentences = [.. why ?? [], .. Sentences(CodeFindings.Of(codes), codes, targets)],
            Facts = counted.Count == 0 ? null : Facts(counted),
            Statements = [.. counted.Select(code => Statement(study, code))],
            Texts = [.. CodeBlocks.Words.Where(blocks.Contains).SelectMany(block => Texts(codes, block))],
            Notes =
            [
                .. counted.Count == 0 ? []
                    : (string[])["counted in the code of the last tier, as the timed process makes it, in the operation and "
                    + "what it calls; how often each runs is not told by it"],
            ],
        };
    }

    private static IEnumerable<CodeText> Texts(IReadOnlyList<VariantCode> codes, string block)
        => codes is [var left, var right] ? CodeTexts.Between(left, right, block) : codes.SelectMany(code => CodeTexts.Of(code, block));

    private static IEnumerable<(Tone, string)> Sentences(CodeFindings findings, IReadOnlyList<VariantCode> codes, List<string> targets)
    {
        foreach (var group in findings.Same)
        {
            var where = targets.Count > 1 ? $" on {group[0].Target}" : "";
            yield return (Tone.Even,
                $"{Wording.List(group.Select(code => code.Name))} are the same machine code{where}: where their times differ, "
                + "it is by data, memory or place, not by code");
        }

        foreach (var code in findings.FoldedAway)
        {
            yield return (Tone.Open,
                $"{CodeTexts.Label(code)} was computed when it was compiled: it only gives back a constant or what it was "
                + "given, and its time is the loop's");
        }

        foreach (var target in targets.Skip(1))
        {
            foreach (var same in findings.Across.Where(pair => pair.Other.Target == target).GroupBy(pair => pair.Relation)
                .OrderBy(group => group.Key))
            {
                var names = Wording.List(same.Select(pair => pair.Other.Name));
                yield return (Tone.Aside, $"on {target}, against {targets[0]}: {names}: {Words(same.Key)}");
            }
        }

        foreach (var group in codes.Where(code => code.Problem is not null).GroupBy(code => code.Problem))
        {
            yield return (Tone.Failed, $"{Wording.List(group.Select(CodeTexts.Label))}: {group.Key}");
        }

        foreach (var code in codes.Where(code => code is { Problem: null, Early.Count: > 0 }))
        {
            yield return (Tone.Aside, $"{CodeTexts.Label(code)} calls {Wording.List(code.Early)}, of which the runtime made no code of its "
                + "last tier while it was warmed, as of what is called too seldom: not followed, and not counted");
        }
    }

    private static string Words(CodeRelation relation) => relation switch
    {
        CodeRelation.Same => "the same machine code, as far as its calls were followed",
        CodeRelation.SameIl => "the same IL and other machine code, so that the change is in the runtime's compiler, or in what of the "
            + "runtime is called",
        _ => "other IL, so that the change begins with the C# compiler, or with the source",
    };

    // A fact a row: beside each other stands what is to be compared, and headings that say what they mean take no room.
    private static FigureTable Facts(IReadOnlyList<VariantCode> codes) => new()
    {
        Title = "counted", Of = "counted", AreHeadingsNames = true,
        Headings = [.. codes.Select(CodeTexts.Label)],
        Rows =
        [
            .. s_counts.Where(row => codes.Any(code => row.Count(code.Facts!) != 0))
                .Select(row => new FigureRow(row.What, [.. codes.Select(code => Quantity.Count(row.Count(code.Facts!)))])),
            .. Words(codes).Where(row => row.Figures.Any(figure => figure != Quantity.Absent)),
        ],
    };

    private static IEnumerable<FigureRow> Words(IReadOnlyList<VariantCode> codes)
    {
        yield return new("of vectors, widest",
            [.. codes.Select(code => code.Facts!.VectorBits == 0 ? Quantity.Absent : Wording.Invariant($"{code.Facts.VectorBits} bits"))]);
        yield return new("cycles from call to call, at least", [.. codes.Select(code => Chain(code, isOfCall: true))]);
        yield return new("cycles from round to round, at least", [.. codes.Select(code => Chain(code, isOfCall: false))]);
        yield return new("calls inlined", [.. codes.Select(code => Inlined(code, isRefused: false))]);
        yield return new("calls not inlined", [.. codes.Select(code => Inlined(code, isRefused: true))]);
        yield return new("in the measured loop",
            [.. codes.Select(code => code.Loop is null ? Quantity.Absent : code.IsInLoop ? "inlined" : "called")]);
        yield return new("profile",
            [.. codes.Select(code => CodeTexts.Profile(code.Tree!.Listing.Profile).Replace(" profile", "", StringComparison.Ordinal))]);
    }

    private static string Chain(VariantCode code, bool isOfCall)
        => code.Chain is { } chain && chain.IsOfCall == isOfCall ? Quantity.Small(chain.Cycles) : Quantity.Absent;

    private static string Inlined(VariantCode code, bool isRefused)
        => code.Inlinings.Count == 0 ? Quantity.Absent : Quantity
            .Count(code.Inlinings.Count(decision => decision.Refused is not null == isRefused));

    // One operation at several settings of a dial is one code.
    private static List<VariantCode> Once(IEnumerable<VariantCode> codes)
        => [.. codes.GroupBy(code => (code.Target, code.Variant, Operation: code.Operation ?? code.Name)).Select(same => same.Count() == 1
            ? same.First()
            : same.First() with { Name = same.Key.Variant })];

    private static string Statement(string study, VariantCode code)
    {
        var counts = s_counts.Where(row => row.Count(code.Facts!) != 0)
            .Select(row => $"{row.What} {Quantity.Count(row.Count(code.Facts!))}");
        var words = Words([code]).Where(row => row.Figures[0] != Quantity.Absent).Select(row => $"{row.Name}: {row.Figures[0]}");
        return $"{study} · {CodeTexts.Label(code)}: {string.Join(", ", counts.Concat(words))}";
    }
}
