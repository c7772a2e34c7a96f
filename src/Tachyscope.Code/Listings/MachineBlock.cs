namespace Tachyscope.Code.Listings;

/// <summary>Instructions that jumps enter at the first only.</summary>
/// <param name="Label">What the listing calls it.</param>
/// <param name="Offset">Where it begins, in bytes from the method's first.</param>
/// <param name="Instructions">Its instructions, in order; may be empty.</param>
public sealed record MachineBlock(string Label, int Offset, IReadOnlyList<MachineInstruction> Instructions);
