using Tachyscope.Code.Assemblies;
using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Code.Variants;

/// <summary>Finds in what a process told of its code what belongs to each variant.</summary>
/// <param name="listings">The code of the process.</param>
/// <param name="inlinings">What its compiler decided.</param>
/// <param name="target">Name of the target; empty when there is only one.</param>
/// <param name="depth">How many calls deep to follow.</param>
public sealed class VariantReader(ListingSet listings, IReadOnlyList<InliningDecision> inlinings, string target, int depth) : IDisposable
{
    /// <summary>Whether lowered C# is read too, which takes the better part of a second; false by default.</summary>
    public bool IsLoweredRead { get; init; }

    // What the loop itself calls.
    private static readonly string[] s_instruments = ["Tachyscope.Measuring.", "System.Delegate:get_Target", "System.Delegate:GetTarget"];

    // The framework's comes compiled, and is told at every tier it goes through; what it lacks of the last is nobody's to mend.
    private static readonly string[] s_framework = ["System.", "Microsoft.", "Internal."];

    private readonly Dictionary<string, MethodReader?> _assemblies = new(StringComparer.Ordinal);

    /// <summary>Reads one variant.</summary>
    /// <param name="row">The row of the study, with its method.</param>
    public VariantCode Read(VariantDescription row)
    {
        ArgumentNullException.ThrowIfNull(row);
        var code = new VariantCode { Name = row.Name, Variant = row.Variant, Target = target, IsBaseline = row.IsBaseline };
        if (row.Method is not { } place)
        {
            return code with
            {
                Problem = "its operation is made when it runs, and belongs to no assembly; write it as a lambda or a method",
            };
        }

        if (Open(place.Assembly) is not { } assembly)
        {
            return code with { Problem = $"{place.Assembly} cannot be read; measure the project rather than a copy of its program" };
        }

        var name = assembly.NameOf(place.Token);
        var (versions, loop) = (listings.Of(name.Is), LoopOf(name));
        var found = code with
        {
            Operation = $"{name.Type}:{name.Name}",
            Methods = [.. assembly.Reached(place.Token, depth).Select(token => Method(assembly, token))],
            Loop = loop is { Problem: null } ? loop : null,
            IsInLoop = loop is { Problem: null } && !loop.All.Any(instruction => instruction.Callee is { } callee && name.Is(callee)),
            IsUnfinished = loop is { Problem: not null },
        };
        // What runs is the loop: an operation that became a part of it has been compiled there, whatever its own code looks like.
        var final = (found is { IsInLoop: true, Loop.IsUnderstood: true } ? LoopFrame.Of(loop!)?.Users(loop!, $"{name.Type}:{name.Name}")
            : null)
            ?? versions.LastOrDefault(version => version.IsFinal);
        return final switch
        {
            null => found with { Problem = Missing(versions), IsUnfinished = versions.Count > 0 },
            { Problem: { } problem } => found with { IsUnfinished = true, Problem = $"the runtime's listing could not be read: {problem}" },
            _ => WithTree(found, listings.Follow(final, depth)),
        };
    }

    /// <summary>Closes the assemblies.</summary>
    public void Dispose()
    {
        foreach (var assembly in _assemblies.Values)
        {
            assembly?.Dispose();
        }
    }

    private VariantCode WithTree(VariantCode found, CodeTree tree) => found with
    {
        Tree = tree,
        Facts = tree.Listing.IsUnderstood ? FactFinder.Of(tree) : null,
        Chain = !tree.Listing.IsUnderstood ? null
            : (found.IsInLoop ? ChainFinder.OfCall(found.Loop!) : null) ?? ChainFinder.OfRound(tree),
        Problem = tree.Listing.IsUnderstood ? null
            : $"its code is for {tree.Listing.Instructions}, and counted and compared is only what is for X64; "
                + "add --show machine to read it",
        IsUnfinished = found.IsUnfinished || tree.All.Any(listing => listing.Problem is not null),
        Early = [.. tree.AllEarly.Where(method => !Array.Exists(s_framework, name => method.StartsWith(name, StringComparison.Ordinal)))],
        Inlinings = [.. Decisions(found, tree)],
    };

    // The loop that the compiler was to put the operation into, whether it did or not: loops are made in any order. Where it does not tell
    // that, the one that calls it. What is put into a loop besides is what its operation calls, and comes after it; another variant's
    // operation may be among that.
    private MachineListing? LoopOf(MethodName name)
    {
        var operation = $"{name.Type}:{name.Name}";
        var deciding = inlinings.Where(decision => !IsInstruments(decision)).GroupBy(decision => Bare(decision.Into))
            .Where(decisions => (decisions.FirstOrDefault(decision => decision.Refused is null) ?? decisions.First()).Callee == operation)
            .Select(decisions => decisions.Key).ToHashSet();
        return listings.Loops.LastOrDefault(loop => deciding.Contains(Bare(loop.Method)))
            ?? listings.Loops.LastOrDefault(loop => loop.All.Any(instruction => instruction.Callee is { } callee && name.Is(callee)));
    }

    // Of the loop only what is not the instrument's.
    private IEnumerable<InliningDecision> Decisions(VariantCode found, CodeTree tree)
        => inlinings.Where(decision => tree.All.Any(listing => IsOf(decision, listing))
                || (found.IsInLoop && IsOf(decision, found.Loop!) && !IsInstruments(decision)))
            .Select(decision => found.IsInLoop && IsOf(decision, found.Loop!) ? decision with { Into = "the measured loop" } : decision)
                .Distinct();

    private static bool IsInstruments(InliningDecision decision)
        => s_instruments.Any(own => decision.Callee.StartsWith(own, StringComparison.Ordinal));

    // The compiler's events name types as listings do, but for the arguments of generic ones.
    private static bool IsOf(InliningDecision decision, MachineListing listing) => Bare(listing.Method) == Bare(decision.Into);

    private static string Bare(string name)
    {
        var colon = name.IndexOf(':', StringComparison.Ordinal);
        var (type, method) = (name[..Math.Max(0, colon)], name[(colon + 1)..]);
        return $"{type.Split('[')[0].Trim('(', ')')}:{method.Split('[', '(')[0]}";
    }

    private static string Missing(IReadOnlyList<MachineListing> versions)
        => versions.Count == 0
            ? "the runtime made no code for it while it was warmed; call it more often, or on a smaller input"
            : $"it never reached its last tier: the runtime stopped at "
                + $"{string.Join(", ", versions.Select(version => version.Tier).Distinct())}, "
                + "as it does with what is called too seldom; measure a smaller input, or add --target switch:TieredCompilation=0";

    private UserMethod Method(MethodReader assembly, int token)
    {
        var name = assembly.NameOf(token);
        return new UserMethod($"{name.Type}:{name.Name}", assembly.Il(token), IsLoweredRead ? assembly.Lowered(token) : []);
    }

    private MethodReader? Open(string path)
    {
        if (!_assemblies.TryGetValue(path, out var assembly))
        {
            try
            {
                assembly = new MethodReader(path);
            }
            catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or BadImageFormatException)
            {
                assembly = null;
            }

            _assemblies[path] = assembly;
        }

        return assembly;
    }
}
