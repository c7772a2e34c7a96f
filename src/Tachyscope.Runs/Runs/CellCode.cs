namespace Tachyscope.Runs;

/// <summary>The machine code that came of a cell in one process, as the runtime announced it, and where it and its input came to
/// lie.</summary>
/// <remarks>Places are told within their page of 4,096 bytes: what lies how to cache lines follows from that.</remarks>
sealed partial record CellCode
{
    /// <summary>Whether the operation became part of its measured loop, instead of being called by it; null where nothing was said of
    /// it.</summary>
    public bool? IsInlined { get; init; }

    /// <summary>Length of the measured loop's code, in bytes.</summary>
    public int LoopBytes { get; init; }

    /// <summary>Where that begins.</summary>
    public int LoopOffset { get; init; }

    /// <summary>Length of the operation's own code, in bytes; null where it is part of the loop, or was not heard of.</summary>
    public int? Bytes { get; init; }

    /// <summary>Where that begins.</summary>
    public int? Offset { get; init; }

    /// <summary>How it was compiled: the operation's own code, or the loop's where it is part of that.</summary>
    public CodeTier Tier { get; init; }

    /// <summary>Methods that the operation calls and that did not become part of it, a few of them, of which code was heard.</summary>
    public IReadOnlyList<CalleeCode> Callees { get; init => field = value ?? []; } = [];

    /// <summary>Where its input begins, an object that its calls share; null for what is no object.</summary>
    public int? InputOffset { get; init; }
}
