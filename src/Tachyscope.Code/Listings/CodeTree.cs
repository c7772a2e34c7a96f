namespace Tachyscope.Code.Listings;

/// <summary>A method's listing with those of the methods it calls, as far as they are followed.</summary>
/// <param name="Listing">The method's.</param>
/// <param name="Callees">What it calls and the listings hold, each once, in the order of the calls.</param>
public sealed record CodeTree(MachineListing Listing, IReadOnlyList<CodeTree> Callees)
{
    /// <summary>What it calls and is not followed, since the listings hold no code of it of the last tier, but of an earlier one.</summary>
    public IReadOnlyList<string> Early { get; init; } = [];

    /// <summary>The same of all that were followed from it, each once.</summary>
    public IEnumerable<string> AllEarly => Callees.SelectMany(callee => callee.AllEarly).Concat(Early).Distinct(StringComparer.Ordinal);

    /// <summary>The listing, and all that were followed from it, each once.</summary>
    public IEnumerable<MachineListing> All => Walk().DistinctBy(listing => listing.Method, StringComparer.Ordinal);

    private IEnumerable<MachineListing> Walk() => Callees.SelectMany(callee => callee.Walk()).Prepend(Listing);
}
