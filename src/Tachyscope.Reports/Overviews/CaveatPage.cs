namespace Tachyscope.Reports.Overviews;

/// <summary>What a caveat means, as docs/caveats.md says it.</summary>
/// <param name="Name">Its name.</param>
/// <param name="When">When it is raised.</param>
/// <param name="WayOut">What to do about it.</param>
public sealed record CaveatPage(string Name, string When, string WayOut);
