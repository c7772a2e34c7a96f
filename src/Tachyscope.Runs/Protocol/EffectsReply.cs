namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Effects"/>.</summary>
sealed partial record EffectsReply
{
    /// <summary>
    /// What was seen in the process, by the name of the runtime switch that governs it, as the value that switch would have: "0", "1", a
    /// name.
    /// </summary>
    public required IReadOnlyDictionary<string, string> Effects { get; init; }
}
