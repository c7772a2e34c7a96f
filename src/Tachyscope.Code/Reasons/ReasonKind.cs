namespace Tachyscope.Code.Reasons;

/// <summary>What may make one code slower than another.</summary>
public enum ReasonKind
{
    /// <summary>It is computed when it runs, and the other was when it was compiled.</summary>
    NotFolded,

    /// <summary>It computes number by number, and the other several at once.</summary>
    NoVectors,

    /// <summary>It computes fewer numbers at once.</summary>
    NarrowerVectors,

    /// <summary>It goes through a loop within another.</summary>
    DeeperLoops,

    /// <summary>It allocates.</summary>
    Allocations,

    /// <summary>It calls what is found in a table or a delegate when the call is made.</summary>
    IndirectCalls,

    /// <summary>It calls methods that the other has inlined, or has not.</summary>
    Calls,

    /// <summary>It divides, or takes roots.</summary>
    Divisions,

    /// <summary>It keeps memory in step with other threads.</summary>
    Atomics,

    /// <summary>It looks at the type of objects.</summary>
    TypeChecks,

    /// <summary>It tells the collector of references it stores.</summary>
    WriteBarriers,

    /// <summary>It copies values into its own frame.</summary>
    Copies,

    /// <summary>It compares indices with lengths.</summary>
    BoundsChecks,

    /// <summary>It decides by jumps, which the processor has to guess.</summary>
    Branches,

    /// <summary>It simply does more.</summary>
    MoreInstructions,
}
