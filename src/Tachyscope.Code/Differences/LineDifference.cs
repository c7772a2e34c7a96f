namespace Tachyscope.Code.Differences;

/// <summary>A row of two texts put side by side.</summary>
/// <param name="Left">Index of the line on the left; null where there is none.</param>
/// <param name="Right">Index of the line on the right; null where there is none.</param>
/// <param name="IsSame">Whether both lines say the same.</param>
public sealed record LineDifference(int? Left, int? Right, bool IsSame);
