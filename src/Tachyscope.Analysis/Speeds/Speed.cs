using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Speeds;

/// <summary>One of the speeds that the same code settles at, by where it and its data came to lie and what the compiler made of
/// it.</summary>
/// <param name="Placements">Placements that had it: processes, and the copies of the code in each.</param>
/// <param name="Chance">
/// How often it comes, with Wilson's interval ("Probable inference, the law of succession, and statistical inference", 1927).
/// </param>
/// <param name="NanosecondsPerCall">
/// Time per call at this speed; its interval is Student's t with the deviation within speeds, pooled.
/// </param>
public sealed record Speed(int Placements, Interval Chance, Interval NanosecondsPerCall);
