namespace Tachyscope.Measuring;

/// <summary>A loop that empties caches once it is warm.</summary>
internal interface IColdLoop
{
    /// <summary>Calls that a batch may hold, emptying the caches before each.</summary>
    long MostCalls { get; }

    /// <summary>Readings in a turn: emptying a large cache takes milliseconds.</summary>
    int Readings { get; }

    /// <summary>Empties them from now on.</summary>
    void BeginCold();
}
