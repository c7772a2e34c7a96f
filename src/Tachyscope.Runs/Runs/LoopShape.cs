namespace Tachyscope.Runs;

/// <summary>What the measured loop around an operation looks like; cells of one shape share the cost of the empty loop.</summary>
sealed partial record LoopShape
{
    /// <summary>How the loop reaches the operation.</summary>
    public CallPath Path { get; init; }

    /// <summary>Whether a call waits for the one before.</summary>
    public CallOrder Order { get; init; }

    /// <summary>Which input a call gets.</summary>
    public InputSupply Supply { get; init; }

    /// <summary>What the operation answers with.</summary>
    public ResultKind Result { get; init; }

    /// <summary>Threads that run the loop at once, on any processor; null for one that is held to the round's processor.</summary>
    public int? Threads { get; init; }

    /// <summary>Whether a direct call stays a call, which the compiler cannot take into the loop.</summary>
    public bool IsCalled { get; init; }

    /// <summary>Size of the largest cache that is emptied before each call, in bytes, each of which is timed by itself; null for
    /// none.</summary>
    public long? EmptiedBytes { get; init; }

    /// <summary>Whether the measuring thread alone does the work, so that it matters who shares its core.</summary>
    public bool IsOfOneCore() => Threads is null && Path is not (CallPath.Awaited or CallPath.Started);

    /// <summary>
    /// Nanoseconds that the loop may leave in a time after the empty loop was subtracted: measured by the known-cost
    /// program of bench/ for every shape, and stated in docs/method.md.
    /// </summary>
    public double ResidueNanoseconds()
    {
        var isRead = Result is ResultKind.Structure or ResultKind.Reference or ResultKind.Opaque;
        // The clock is read around each call.
        var path = EmptiedBytes is not null ? 10 : IsCalled ? 1 : Path switch
        {
            CallPath.Awaited => 3,
            CallPath.Interpreted => 15,
            CallPath.Delegate => isRead ? 3 : 1,
            _ => 0.1,
        };
        var result = Result switch
        {
            ResultKind.Opaque => 2.5,
            ResultKind.Enumerated => 2,
            ResultKind.Span => 2,
            ResultKind.FloatingPoint or ResultKind.None => 1,
            ResultKind.Structure or ResultKind.Reference => 0.5,
            _ => 0.1,
        };
        var others = Threads is not null || Supply == InputSupply.Each || Order == CallOrder.Overlapped ? 0.5 : 0.1;
        return Math.Max(path, Math.Max(result, others));
    }

    /// <summary>What sets the shape apart, in a few words, such as "called through its delegate".</summary>
    public string InWords() => this switch
    {
        { EmptiedBytes: not null } => "caches emptied before each call",
        { IsCalled: true } => "called, and never part of the loop",
        { Path: CallPath.Awaited } => "awaited",
        { Path: CallPath.Delegate } => "called through its delegate",
        { Path: CallPath.Started } => "started anew for each call",
        { Path: CallPath.Interpreted } => "called by an interpreter",
        { Threads: not null } => "called from several threads",
        { Result: ResultKind.Enumerated } => "answer enumerated",
        { Supply: InputSupply.Each } => "an input of its own for each call",
        { Result: ResultKind.Structure } => "answer a structure",
        { Result: ResultKind.Opaque } => "answer an object, read where it begins and ends",
        { Result: ResultKind.Span } => "answer a span",
        { Result: ResultKind.FloatingPoint } => "answer in a floating-point register",
        { Result: ResultKind.YesOrNo } => "answer yes or no",
        { Result: ResultKind.None } => "no answer for the next call to wait for",
        { Order: CallOrder.Overlapped } => "calls side by side",
        _ => "called directly",
    };
}
