namespace Tachyscope.Runs;

/// <summary>What a run is doing at a moment.</summary>
#if STUDY_SIDE
internal
#else
public
#endif
enum RunStage
{
    /// <summary>Comparing the variants' answers.</summary>
    Checking,

    /// <summary>Calling the variants until they are settled.</summary>
    Warming,

    /// <summary>Taking readings.</summary>
    Reading,

    /// <summary>Looking at single cells in processes of their own.</summary>
    Diagnosing,
}
