namespace Tachyscope.Lab.Targets;

/// <summary>The targets a run was asked for, and everything that is wrong with how they were asked for.</summary>
/// <param name="Targets">The targets, the first of them the one others are compared with.</param>
/// <param name="Mistakes">What is wrong, one sentence each with the way out; empty when all is well.</param>
public sealed record TargetSet(IReadOnlyList<Target> Targets, IReadOnlyList<string> Mistakes);
