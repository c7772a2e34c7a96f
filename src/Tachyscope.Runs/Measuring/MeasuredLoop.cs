namespace Tachyscope.Measuring;

/// <summary>Calls an operation a number of times, each call waiting for the last.</summary>
internal delegate void MeasuredLoop(long calls);
