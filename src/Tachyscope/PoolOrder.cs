namespace Tachyscope;

/// <summary>In which order calls take the inputs of a pool.</summary>
public enum PoolOrder
{
    /// <summary>Shuffled, anew each time all were taken: neither the caches nor the branch predictor can know which comes next.</summary>
    Shuffled,

    /// <summary>As they were made, again and again.</summary>
    InTurn,
}
