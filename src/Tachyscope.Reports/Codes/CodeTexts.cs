using System.Globalization;
using Tachyscope.Code.Differences;
using Tachyscope.Code.Listings;
using Tachyscope.Code.Variants;
using Tachyscope.Protocol;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Codes;

/// <summary>Sets the code of variants as lines: of each by itself, or of two beside each other.</summary>
internal static class CodeTexts
{
    /// <summary>The code of one variant.</summary>
    public static IEnumerable<CodeText> Of(VariantCode code, string block) => block switch
    {
        CodeBlocks.Lowered => code.Methods.Select(method => Single($"{Label(code)} · {method.Name} · lowered C#", method.Lowered)),
        CodeBlocks.Il => code.Methods.Select(method => Single($"{Label(code)} · {method.Name} · IL", method.Il)),
        CodeBlocks.Machine => code.Tree is { } tree ? tree.All.Select(listing => Listing(code, listing)) : [],
        CodeBlocks.Loop => code.Loop is { } loop ? [Loop(code, loop)] : [],
        _ => [Single($"{Label(code)} · what was inlined, and what not, and why", [.. code.Inlinings.Select(Decision).Distinct()])],
    };

    /// <summary>The code of two variants, method by method.</summary>
    public static IEnumerable<CodeText> Between(VariantCode left, VariantCode right, string block)
    {
        switch (block)
        {
            case CodeBlocks.Lowered or CodeBlocks.Il:
                var word = block == CodeBlocks.Il ? "IL" : "lowered C#";
                foreach (var (one, other) in Paired(left.Methods, right.Methods, method => method.Name))
                {
                    yield return Pair(left, right, $"{Both(one?.Name, other?.Name)} · {word}", Lines(one, block), Lines(other, block));
                }

                break;
            case CodeBlocks.Machine:
                foreach (var (one, other) in Paired([.. left.Tree?.All ?? []], [.. right.Tree?.All ?? []], listing => listing.Method))
                {
                    yield return Pair(left, right, one, other);
                }

                break;
            default:
                foreach (var text in Of(left, block).Concat(Of(right, block)))
                {
                    yield return text;
                }

                break;
        }
    }

    /// <summary>What a variant is called beside others.</summary>
    public static string Label(VariantCode code) => code.Target.Length == 0 ? code.Name : $"{code.Name} · {code.Target}";

    private static IReadOnlyList<string> Lines(UserMethod? method, string block)
        => method is null ? [] : block == CodeBlocks.Il ? method.Il : method.Lowered;

    private static CodeText Single(string title, IReadOnlyList<string> lines)
        => new(title, "", null, [.. lines.Select(line => new CodeRow(line, null, CodeRowKind.Plain))]);

    private static CodeText Listing(VariantCode code, MachineListing listing)
    {
        var title = $"{Label(code)} · {listing.Method} · {Measure(listing)}";
        return listing.Problem is not null || !listing.IsUnderstood
            ? new($"{title} · as it was told{(listing.Problem is { } problem ? $", since it could not be read: {problem}" : "")}", "", null,
                [.. listing.Raw.Select(line => new CodeRow(line, null, CodeRowKind.Plain))])
            : new(title, "", null,
                [.. NormalForm.Of(listing, areAddressesKept: true).Select(line => new CodeRow(Set(line), null, CodeRowKind.Plain))]);
    }

    private static CodeText Loop(VariantCode code, MachineListing loop)
    {
        var frame = LoopFrame.Of(loop);
        var what = frame is null ? "what of it is the instrument's could not be told" : code.IsInLoop ? "the operation became a part of it"
            : "it calls the operation";
        return new($"{Label(code)} · the measured loop · {what}", "", null,
            [
                .. NormalForm.Of(loop, areAddressesKept: true).Select(line => new CodeRow(Set(line), null,
                    frame is null || (line.Instruction is { } instruction && frame.IsUsers(instruction)) ? CodeRowKind.Plain
                        : CodeRowKind.Instrument)),
            ]);
    }

    private static CodeText Pair(VariantCode left, VariantCode right, MachineListing? one, MachineListing? other)
    {
        var isSameProcess = left.Target == right.Target;
        var (lines, others) = (Normal(one, isSameProcess), Normal(other, isSameProcess));
        var rows = SideBySide.Of([.. lines.Select(line => line.Shape)], [.. others.Select(line => line.Shape)]);
        return new CodeText(Both(one?.Method, other?.Method), Measured(left, one), Measured(right, other),
            [.. rows.Select(row => Row(row, index => Set(lines[index]), index => Set(others[index])))]);
    }

    private static string Measured(VariantCode code, MachineListing? listing)
        => listing is null ? Label(code)
            : $"{Label(code)} · {Measure(listing)}{(listing.Problem is { } problem ? $" · could not be read: {problem}" : "")}";

    private static IReadOnlyList<NormalForm.Line> Normal(MachineListing? listing, bool isSameProcess)
        => listing is { Problem: null } ? NormalForm.Of(listing, isSameProcess) : [];

    private static CodeText Pair(VariantCode left, VariantCode right, string title, IReadOnlyList<string> lines,
        IReadOnlyList<string> others)
        => new(title, Label(left), Label(right),
            [.. SideBySide.Of(lines, others).Select(row => Row(row, index => lines[index], index => others[index]))]);

    private static CodeRow Row(LineDifference row, Func<int, string> left, Func<int, string> right)
        => new(row.Left is { } at ? left(at) : null, row.Right is { } other ? right(other) : null, row.IsSame ? CodeRowKind.Plain
            : CodeRowKind.Different);

    // By name where both have it, and in their order where not.
    private static IEnumerable<(T? One, T? Other)> Paired<T>(IReadOnlyList<T> ones, IReadOnlyList<T> others, Func<T, string> name)
        where T : class
    {
        var free = others.Where(other => ones.All(one => name(one) != name(other))).ToList();
        foreach (var one in ones)
        {
            var other = others.FirstOrDefault(other => name(other) == name(one)) ?? free.FirstOrDefault();
            free.RemoveAll(candidate => ReferenceEquals(candidate, other));
            yield return (one, other);
        }

        foreach (var other in free)
        {
            yield return (null, other);
        }
    }

    private static string Both(string? one, string? other)
        => one is null ? other ?? "" : other is null || one == other ? one : $"{one} – {other}";

    private static string Set(NormalForm.Line line) => line.Label is null ? $"    {line.Shown}" : line.Shown;

    private static string Measure(MachineListing listing)
        => string.Create(CultureInfo.InvariantCulture,
            $"{listing.Tier}, {Profile(listing.Profile)}, {Quantity.Count(listing.CodeBytes)} bytes");

    /// <summary>Whose counts of calls and branches the code was made by.</summary>
    public static string Profile(string? profile) => profile switch
    {
        null => "no profile",
        _ when profile.StartsWith("Dynamic", StringComparison.Ordinal) => "own profile",
        _ when profile.StartsWith("Synthesized", StringComparison.Ordinal) => "guessed profile",
        _ when profile.StartsWith("Static", StringComparison.Ordinal) => "shipped profile",
        _ => profile,
    };

    private static string Decision(InliningDecision decision)
        => decision.Refused is { } reason ? $"called    {decision.Callee}, in {decision.Into}: {reason}"
            : $"inlined   {decision.Callee}, in {decision.Into}";
}
