using System.IO.Enumeration;
using Tachyscope.Code.Assemblies;
using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;
using Tachyscope.Code.Variants;
using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Codes;

/// <summary>Looks at the code of one study on a target after another.</summary>
/// <param name="watch">Has the runtime list its code.</param>
/// <param name="pattern">The study, as it was asked for.</param>
/// <param name="names">The variants, as they were asked for; all when there are none.</param>
internal sealed class CodeLook(CodeWatch watch, string pattern, IReadOnlyList<string> names)
{
    // Two threads of a runtime that compile at once spoil each other's listing; what is asked for is seldom among them.
    private const int MostLooks = 3;

    // What is called too seldom stays at its first tier; on a busy machine the runtime may just not have come to the last one.
    private const int LooksForEarly = 2;

    // What a program calls two calls deep may be a good part of it.
    private const int MostFunctions = 200;

    private Dictionary<string, MethodPlace> _methods = [];

    /// <summary>How many calls deep is followed unless it is said.</summary>
    public const int UsualDepth = 2;

    /// <summary>How many calls deep to follow; 2 by default.</summary>
    public int Depth { get; init; } = UsualDepth;

    /// <summary>Whether lowered C# is wanted.</summary>
    public bool IsLoweredRead { get; init; }

    /// <summary>Whether the baseline is looked at although others were named, since they are compared with it.</summary>
    public bool IsBaselineRead { get; init; }

    /// <summary>Builds guests, whose programs are looked at once the first target was; null where they are not.</summary>
    public GuestPrograms? Guests { get; init; }

    /// <summary>Name of the study, once it was looked at.</summary>
    public string Study { get; private set; } = "";

    /// <summary>The code of the variants asked for, or why there is none.</summary>
    public async Task<(IReadOnlyList<VariantCode> Codes, string? Problem)> AtAsync(PreparedTarget target, CancellationToken cancellation)
    {
        IReadOnlyList<VariantCode> codes = [];
        for (var look = 0; look < MostLooks && (look == 0 || codes.Any(code
            => code.IsUnfinished || (code.Early.Count > 0 && look < LooksForEarly))); look++)
        {
            string? problem = null;
            var capture = await watch.WatchAsync(target, known => Chosen(known, out problem), look, cancellation);
            if (capture is null)
            {
                return ([], problem);
            }

            Study = capture.Study.Name;
            if (capture is { Environment.IsAheadOfTime: true, Program: { } program })
            {
                return await ReadNativeAsync(capture, program, target.Target.Name, cancellation);
            }

            _methods = capture.Study.Variants.Where(row => row.Method is not null).ToDictionary(row => row.Name, row => row.Method!);
            codes = [.. Read(capture, target.Target.Name), .. await GuestsAsync(capture.Study, target.Target.Name, cancellation)];
        }

        return (codes, null);
    }

    private StudyDescription? Chosen(IReadOnlyList<StudyDescription> known, out string? problem)
    {
        var chosen = StudyFilter.Choose(known, [pattern]);
        // A name may match others as a pattern.
        var study = chosen.Count == 1 ? chosen[0] : chosen.FirstOrDefault(study => study.Name == pattern);
        var idle = study is null ? null : names.FirstOrDefault(name => !study.Variants.Any(row => IsMeant(row, name)));
        problem = chosen.Count == 0 ? $"there is no study \"{pattern}\", but {Quoted(known.Select(other => other.Name))}; name one of them."
            : study is null ? $"\"{pattern}\" stands for {Quoted(chosen.Select(other => other.Name))}; name one of them."
            : idle is not null
                ? $"study \"{study.Name}\" has no variant \"{idle}\", but {Quoted(study.Variants.Select(row => row.Name))}; name these."
            : null;
        return problem is null ? study : null;
    }

    private IReadOnlyList<VariantCode> Read(CodeCapture capture, string target)
        => Read(capture, new ListingSet([.. ListingReader.Read(new StringReader(capture.Listings))]), target);

    private IReadOnlyList<VariantCode> Read(CodeCapture capture, ListingSet listings, string target)
    {
        using var reader = new VariantReader(listings, capture.Inlinings, target, Depth) { IsLoweredRead = IsLoweredRead };
        return [.. capture.Study.Variants.Where(row => row.Guest is null && IsMeant(row)).Select(row => Failed(capture, row, target)
            ?? reader.Read(row))];
    }

    // A program knows no methods any more: those of the same names on a target before it lead to its symbols.
    private async Task<(IReadOnlyList<VariantCode> Codes, string? Problem)> ReadNativeAsync(
        CodeCapture capture, string program, string target, CancellationToken cancellation)
    {
        if (_methods.Count == 0)
        {
            return ([], "it is compiled ahead of time, where nothing leads from a variant to its code; name a target that a runtime "
                + "compiles before it, such as --target net10.0 --target net10.0,aot.");
        }

        var (native, problem) = await NativeProgram.OpenAsync(program, cancellation);
        if (native is null)
        {
            return ([], problem);
        }

        capture = capture with
        {
            Study = capture.Study with
            {
                Variants = [.. capture.Study.Variants.Select(row => row with { Method = _methods.GetValueOrDefault(row.Name) })],
            },
        };
        var methods = capture.Study.Variants.Where(IsMeant).Select(row => row.Method).OfType<MethodPlace>().Distinct().Select(
            MethodReader.NameOf).ToList();
        (var listings, problem) = await FollowAsync(native, native.Names.Where(symbol => methods.Exists(method => method.Is(symbol))),
            cancellation);
        return problem is null ? (Read(capture, new ListingSet(listings), target), null) : ([], problem);
    }

    // Of a guest the loop around its operation, which the compiler may have put it into.
    private async Task<IReadOnlyList<VariantCode>> GuestsAsync(StudyDescription study, string target, CancellationToken cancellation)
    {
        var codes = new List<VariantCode>();
        foreach (var row in study.Variants.Where(row => row.Guest is not null && Guests is not null && IsMeant(row)))
        {
            // Its builds have one source and, as settings of a dial have not, code of their own each.
            var code = new VariantCode { Name = row.Name, Variant = row.Name, Target = target, IsBaseline = row.IsBaseline };
            var (native, symbol, problem) = await Guests!.FindAsync(study.Name, row, cancellation);
            IReadOnlyList<MachineListing> listings = [];
            if (native is not null)
            {
                (listings, problem) = await FollowAsync(native, [symbol!], cancellation);
            }

            codes.Add(problem is not null ? code with { Problem = problem }
                : new ListingSet(listings).Follow(listings[0], Depth) is var tree && tree.Listing.IsUnderstood
                    ? code with { Operation = symbol, Tree = tree, Facts = FactFinder.Of(tree), Chain = ChainFinder.OfRound(tree) }
                : code with { Operation = symbol, Tree = tree, Problem = tree.Listing.Problem });
        }

        return codes;
    }

    private async Task<(IReadOnlyList<MachineListing> Listings, string? Problem)> FollowAsync(
        NativeProgram native, IEnumerable<string> symbols, CancellationToken cancellation)
    {
        List<MachineListing> listings = [];
        var next = symbols.ToHashSet();
        HashSet<string> seen = [];
        for (var depth = 0; depth <= Depth && next.Count > 0; depth++)
        {
            List<MachineListing> found = [];
            foreach (var symbol in next.Where(seen.Add).Take(MostFunctions - listings.Count))
            {
                var (lines, problem) = await native.LinesAsync(symbol, cancellation);
                if (problem is not null)
                {
                    return ([], problem);
                }

                found.Add(NativeListing.Read(symbol, lines, native.NameAt));
            }

            // Stubs that lead into shared libraries are no code of the program's.
            listings.AddRange(found.Where(listing => depth == 0 || listing.Problem is null));
            next = [.. found.SelectMany(listing => listing.All).Where(call => !call.IsIndirectCall).Select(call => call.Callee)
                .OfType<string>()];
        }

        return (listings, null);
    }

    private bool IsMeant(VariantDescription row)
        => names.Count == 0 || names.Any(name => IsMeant(row, name)) || (IsBaselineRead && row.IsBaseline);

    // What throws is not called again, so that the runtime has no reason to make anything of it.
    private static VariantCode? Failed(CodeCapture capture, VariantDescription row, string target)
        => capture.Failures.FirstOrDefault(failure => capture.Study.Variants[capture.Cells[failure.Cell].Variant] == row) is { } failure
            ? new VariantCode { Name = row.Name, Variant = row.Variant, Target = target,
                Problem = $"it {failure.Reason}, and is not looked at" }
            : null;

    private static bool IsMeant(VariantDescription row, string name)
        => FileSystemName.MatchesSimpleExpression(name, row.Name) || FileSystemName.MatchesSimpleExpression(name, row.Variant);

    private static string Quoted(IEnumerable<string> names) => string.Join(", ", names.Select(name => $"\"{name}\""));
}
