using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Histories;

/// <summary>Where a series changed.</summary>
/// <param name="Index">The first of its values after the change, most likely.</param>
/// <param name="FirstIndex">The first that may be it.</param>
/// <param name="LastIndex">The last that may be it.</param>
/// <param name="TimeRatio">The times after it as a multiple of those before.</param>
public sealed record ChangePoint(int Index, int FirstIndex, int LastIndex, Interval TimeRatio);
