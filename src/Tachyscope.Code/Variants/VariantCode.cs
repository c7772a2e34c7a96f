using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;
using Tachyscope.Protocol;

namespace Tachyscope.Code.Variants;

/// <summary>What was made of one variant on one target.</summary>
public sealed record VariantCode
{
    /// <summary>Name of the row of the study.</summary>
    public required string Name { get; init; }

    /// <summary>Name of the variant it belongs to, which several rows share at several settings of a dial.</summary>
    public required string Variant { get; init; }

    /// <summary>Name of the target; empty when there is only the project as it is.</summary>
    public required string Target { get; init; }

    /// <summary>Whether the others are compared with it.</summary>
    public bool IsBaseline { get; init; }

    /// <summary>The operation's method, as <c>Type:Method</c>; null where the worker names none.</summary>
    public string? Operation { get; init; }

    /// <summary>The operation and the user's methods it comes to, itself first; empty where its assembly cannot be read.</summary>
    public IReadOnlyList<UserMethod> Methods { get; init; } = [];

    /// <summary>
    /// The machine code of its last tier, and of what it calls; the part of the measured loop where it became one; null where there is
    /// none.
    /// </summary>
    public CodeTree? Tree { get; init; }

    /// <summary>The loop it is measured in; null where it has none of its own.</summary>
    public MachineListing? Loop { get; init; }

    /// <summary>Whether the operation became a part of that loop, so that no call is made.</summary>
    public bool IsInLoop { get; init; }

    /// <summary>What can be counted in its machine code; null where there is none.</summary>
    public CodeFacts? Facts { get; init; }

    /// <summary>What its chain of results takes at least; null where the listing does not tell.</summary>
    public LeastChain? Chain { get; init; }

    /// <summary>What the runtime's compiler decided when it made the operation and what was followed from it.</summary>
    public IReadOnlyList<InliningDecision> Inlinings { get; init; } = [];

    /// <summary>Why there is no machine code to look at, with the way out; null where there is.</summary>
    public string? Problem { get; init; }

    /// <summary>
    /// What it calls beside the framework and was not followed, since the runtime had made no code of it of the last tier.
    /// </summary>
    public IReadOnlyList<string> Early { get; init; } = [];

    /// <summary>Whether it is worth asking the runtime again: two of its threads wrote into the listing at once, or it had not yet made the
    /// code of its last tier.</summary>
    public bool IsUnfinished { get; init; }
}
