namespace Tachyscope.Protocol;

/// <summary>The parameters of a request that has none, and the result of one that returns none.</summary>
sealed partial record Empty
{
    /// <summary>The only value.</summary>
    public static Empty Instance { get; } = new();
}
