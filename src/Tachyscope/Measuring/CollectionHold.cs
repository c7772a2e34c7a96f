using System.Runtime;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Keeps the collector out of a batch, as far as its budget goes.</summary>
internal static class CollectionHold
{
    /// <summary>Bytes a batch may allocate before the collector comes in after all.</summary>
    public const long BudgetBytes = 256L * 1024 * 1024;

    private static int s_collections;

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Begin()
    {
        // Collects what was there; so the count is taken afterwards.
        GC.TryStartNoGCRegion(BudgetBytes);
        s_collections = GC.CollectionCount(0);
    }

    /// <summary>Whether it was kept out to the end.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static bool End()
    {
        if (GCSettings.LatencyMode == GCLatencyMode.NoGCRegion)
        {
            GC.EndNoGCRegion();
        }

        return GC.CollectionCount(0) == s_collections;
    }
}
