namespace Tachyscope.Lab.Targets;

/// <summary>What came of looking for a runtime.</summary>
/// <param name="Runtime">The runtime; null when there is none.</param>
/// <param name="Problem">Why there is none, in a sentence with the way out; null when there is one.</param>
/// <param name="IsWrongUse">Whether what was asked for does not exist, rather than could not be fetched.</param>
public sealed record RuntimeOutcome(FoundRuntime? Runtime, string? Problem = null, bool IsWrongUse = false);
