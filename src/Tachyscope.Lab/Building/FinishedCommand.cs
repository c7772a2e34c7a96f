namespace Tachyscope.Lab.Building;

/// <summary>What came of a command.</summary>
/// <param name="ExitCode">Its exit code; −1 when it was ended.</param>
/// <param name="Output">All it wrote.</param>
internal sealed record FinishedCommand(int ExitCode, string Output);
