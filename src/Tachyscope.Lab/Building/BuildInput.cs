namespace Tachyscope.Lab.Building;

/// <summary>A file that goes into a build.</summary>
/// <param name="Path">Its path.</param>
/// <param name="Ticks">When it was written, in ticks of universal time.</param>
/// <param name="Length">Its length, in bytes.</param>
/// <param name="Hash">SHA-256 of what it holds.</param>
internal sealed record BuildInput(string Path, long Ticks, long Length, string Hash);
