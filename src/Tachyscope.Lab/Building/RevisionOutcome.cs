namespace Tachyscope.Lab.Building;

/// <summary>What came of taking a revision of a project.</summary>
/// <param name="Path">Path of the project as it was then; null when it could not be had.</param>
/// <param name="Commit">The revision's full name; null when there is none.</param>
/// <param name="Problem">What went wrong, in a sentence with the way out; null when all went well.</param>
public sealed record RevisionOutcome(string? Path, string? Commit, string? Problem);
