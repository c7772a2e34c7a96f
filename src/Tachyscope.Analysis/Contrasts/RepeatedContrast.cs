using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>A contrast as one repeat of the comparison found it.</summary>
/// <param name="Repeat">Number of the repeat, from 1.</param>
/// <param name="TimeRatio">The variant's time as a multiple of the baseline's.</param>
/// <param name="Verdict">What it says.</param>
public sealed record RepeatedContrast(int Repeat, Interval TimeRatio, Verdict Verdict);
