using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>One stretch of calls of a cell while it is warmed, from a worker that leaves it to the tool to say when it is warm.</summary>
/// <remarks>On the wire an array of numbers: cell, milliseconds, calls, nanoseconds, metronome, bytes.</remarks>
/// <param name="Cell">Index of the cell.</param>
/// <param name="Milliseconds">When it ended, since the first request to warm.</param>
/// <param name="Calls">Calls.</param>
/// <param name="Nanoseconds">Time of all of them.</param>
/// <param name="BeatNanoseconds">Time of one link of the metronome before it; 0 without a metronome.</param>
/// <param name="AllocatedBytes">Bytes allocated by all of them; null where the language cannot tell.</param>
[JsonConverter(typeof(WarmSliceConverter))]
sealed partial record WarmSlice(
    int Cell, double Milliseconds, long Calls, double Nanoseconds, double BeatNanoseconds, long? AllocatedBytes);
