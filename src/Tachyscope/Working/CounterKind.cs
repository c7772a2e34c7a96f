namespace Tachyscope.Working;

/// <summary>What can be counted: its type in the upper half, its number in the lower one, as Linux's perf_event.h numbers them.</summary>
internal enum CounterKind : long
{
    Cycles = 0,
    Instructions = 1,
    CacheMisses = 3,
    BranchesMissed = 5,

    /// <summary>Pages that the system had to provide; counted by the system, so that it is there on every machine.</summary>
    PagesProvided = (1L << 32) + 2,
}
