namespace Tachyscope.Code.Listings;

/// <summary>What a process told of the code it made.</summary>
public sealed class ListingSet
{
    private const string LoopName = "(dynamicClass):MeasuredLoop";

    private readonly IReadOnlyList<MachineListing> _listings;
    private readonly Dictionary<string, MachineListing> _last = new(StringComparer.Ordinal);
    private readonly HashSet<string> _known;

    /// <summary>The listings of a process.</summary>
    /// <param name="listings">The listings, oldest first.</param>
    public ListingSet(IReadOnlyList<MachineListing> listings)
    {
        ArgumentNullException.ThrowIfNull(listings);
        _listings = listings;
        _known = [.. listings.Select(listing => listing.Method)];
        foreach (var listing in listings.Where(listing => listing.IsFinal))
        {
            _last[listing.Method] = listing;
        }
    }

    /// <summary>The measured loops, in the order in which they were made.</summary>
    public IReadOnlyList<MachineListing> Loops
        => [.. _listings.Where(listing => listing.IsFinal && listing.Method.StartsWith(LoopName, StringComparison.Ordinal))];

    /// <summary>The versions of a method, oldest first.</summary>
    /// <param name="method">Whether a name, as listings write it, is the method's.</param>
    public IReadOnlyList<MachineListing> Of(Func<string, bool> method) => [.. _listings.Where(listing => method(listing.Method))];

    /// <summary>The last version of a method that is of the last tier; null when there is none.</summary>
    /// <param name="method">The method, as listings name it.</param>
    public MachineListing? Final(string method) => _last.GetValueOrDefault(method);

    /// <summary>A listing with those of the methods it calls.</summary>
    /// <param name="listing">The listing.</param>
    /// <param name="depth">How many calls deep; 0 for none.</param>
    public CodeTree Follow(MachineListing listing, int depth)
    {
        ArgumentNullException.ThrowIfNull(listing);
        return Follow(listing, depth, [listing.Method]);
    }

    // What calls itself, at once or through others, is followed once.
    private CodeTree Follow(MachineListing listing, int depth, HashSet<string> above)
    {
        List<CodeTree> callees = [];
        List<string> early = [];
        foreach (var name in depth == 0 ? [] : listing.All.Select(instruction => instruction.Callee).OfType<string>()
            .Distinct(StringComparer.Ordinal))
        {
            if (!above.Contains(name) && Final(name) is { } callee)
            {
                callees.Add(Follow(callee, depth - 1, [.. above, name]));
            }
            else if (!above.Contains(name) && _known.Contains(name))
            {
                early.Add(name);
            }
        }

        return new CodeTree(listing, callees) { Early = early };
    }
}
