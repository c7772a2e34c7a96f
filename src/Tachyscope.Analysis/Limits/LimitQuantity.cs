namespace Tachyscope.Analysis.Limits;

/// <summary>What a limit is on.</summary>
public enum LimitQuantity
{
    /// <summary>Wall time per call, in nanoseconds.</summary>
    Time,

    /// <summary>Processor time per call, in nanoseconds.</summary>
    ProcessorTime,

    /// <summary>Bytes allocated per call.</summary>
    Bytes,
}
