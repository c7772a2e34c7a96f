using Tachyscope.Protocol;

namespace Tachyscope.Runs;

/// <summary>What a row answered, kept to be compared with what it answers on another machine.</summary>
sealed partial record CellAnswer
{
    /// <summary>Index of the row in its study.</summary>
    public required int Variant { get; init; }

    /// <summary>Index of the input in its study.</summary>
    public required int Input { get; init; }

    /// <summary>Index of the target in the run; 0 when the run has one.</summary>
    public int Target { get; init; }

    /// <summary>The answer; null where it has none, or could not be written down.</summary>
    public AnswerDigest? Answer { get; init; }
}
