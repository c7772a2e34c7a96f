namespace Tachyscope.Lab.Guests;

/// <summary>What was found of one demand that the protocol makes of a worker.</summary>
/// <param name="Demand">The demand, in a few words.</param>
/// <param name="Problem">How the worker fails it, in a sentence; null when it meets it.</param>
/// <param name="Evidence">A figure that was seen on the way, or why it was not looked at; null without one.</param>
public sealed record GuestFinding(string Demand, string? Problem, string? Evidence = null)
{
    /// <summary>Whether it was looked at at all.</summary>
    public bool IsLookedAt { get; init; } = true;
}
