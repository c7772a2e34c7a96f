namespace Tachyscope.Runs;

/// <summary>How fast one level of memory can be read by one processor.</summary>
/// <param name="Level">Name of the level, such as "L2" or "memory".</param>
/// <param name="SizeBytes">Its size, in bytes; null for main memory.</param>
/// <param name="BytesPerSecond">Bytes read per second.</param>
sealed partial record MemoryLimit(string Level, long? SizeBytes, double BytesPerSecond);
