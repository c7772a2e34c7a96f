namespace Tachyscope.Code.Facts;

/// <summary>What can be counted in the machine code of a variant: of its operation and all that was followed from it.</summary>
public sealed record CodeFacts
{
    /// <summary>How many methods the code lies in: the operation and those it calls that were followed.</summary>
    public required int Methods { get; init; }

    /// <summary>Instructions, padding apart.</summary>
    public required int Instructions { get; init; }

    /// <summary>Length of the code, in bytes.</summary>
    public required int Bytes { get; init; }

    /// <summary>Places where a loop goes round.</summary>
    public required int Loops { get; init; }

    /// <summary>How many loops lie within each other at most, those of what is called from within a loop counted too.</summary>
    public required int LoopDepth { get; init; }

    /// <summary>Jumps that depend on a comparison.</summary>
    public required int Branches { get; init; }

    /// <summary>Calls of methods known when the code was made, the runtime's helpers apart.</summary>
    public required int Calls { get; init; }

    /// <summary>Calls of methods found when the call is made: virtual, of an interface, of a delegate.</summary>
    public required int IndirectCalls { get; init; }

    /// <summary>Instructions that read memory outside the method's own frame.</summary>
    public required int Loads { get; init; }

    /// <summary>Instructions that write memory outside the method's own frame.</summary>
    public required int Stores { get; init; }

    /// <summary>Instructions that keep a value in the method's own frame, for want of registers or across calls.</summary>
    public required int Spills { get; init; }

    /// <summary>Comparisons of an index with a length that end in an exception.</summary>
    public required int BoundsChecks { get; init; }

    /// <summary>Divisions and square roots.</summary>
    public required int Divisions { get; init; }

    /// <summary>Instructions that keep memory in step with other threads.</summary>
    public required int Atomics { get; init; }

    /// <summary>Instructions that compute with several numbers at once.</summary>
    public required int Vectors { get; init; }

    /// <summary>The widest of those, in bits; 0 when there are none.</summary>
    public required int VectorBits { get; init; }

    /// <summary>Calls of the runtime that allocate.</summary>
    public required int Allocations { get; init; }

    /// <summary>Calls of the runtime that look at an object's type.</summary>
    public required int TypeChecks { get; init; }

    /// <summary>Calls of the runtime that tell the collector of a reference stored.</summary>
    public required int WriteBarriers { get; init; }

    /// <summary>Calls of the runtime's other helpers, those that only throw apart.</summary>
    public required int OtherHelpers { get; init; }

    /// <summary>Whether the operation was computed when it was compiled: its code gives back what it was told or a constant, and does
    /// nothing else.</summary>
    public required bool IsFoldedAway { get; init; }
}
