namespace Tachyscope.Runs;

/// <summary>The size of an input along one axis.</summary>
/// <param name="Axis">What it counts, such as "beacons".</param>
/// <param name="Value">How many, 0 or more.</param>
sealed partial record InputSize(string Axis, int Value);
