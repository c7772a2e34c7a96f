using System.Runtime.InteropServices;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Readings as they lie in memory: a run has millions, and each copy of one costs as much as what is done with it.</summary>
internal static class ReadingSpan
{
    public static ReadOnlySpan<Reading> Of(IReadOnlyList<Reading> readings) => readings switch
    {
        Reading[] array => array,
        List<Reading> list => CollectionsMarshal.AsSpan(list),
        _ => readings.ToArray(),
    };
}
