namespace Tachyscope.Analysis.Speeds;

/// <summary>What one cell came to in one copy of the code of one sitting: both draw anew where code and data lie.</summary>
/// <param name="Sitting">Index of the sitting.</param>
/// <param name="Copy">The copy.</param>
/// <param name="Log">Logarithm of the middle of its rounds.</param>
/// <param name="Error">Standard error of that, by the spread of its rounds.</param>
internal readonly record struct Placement(int Sitting, int Copy, double Log, double Error);
