namespace Tachyscope;

/// <summary>What operations without a result answer.</summary>
public readonly record struct NoAnswer;
