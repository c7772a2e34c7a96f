namespace Tachyscope.Lab.Compilers;

/// <summary>What came of looking for a compiler.</summary>
/// <param name="Program">Path of its program; null when there is none.</param>
/// <param name="Problem">Why there is none, in a sentence with the way out; null when there is one.</param>
/// <param name="IsWrongUse">Whether what was asked for does not exist, rather than could not be made.</param>
public sealed record CompilerOutcome(string? Program, string? Problem, bool IsWrongUse = false);
