using Tachyscope.Protocol;

namespace Tachyscope.Runs;

/// <summary>What a row answered, kept to be compared with what it answers on another machine or in another run.</summary>
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

    /// <summary>SHA-256 of what the input held, in hexadecimal; null where another row of the input tells it, or it is not known.</summary>
    public string? InputHash { get; init; }
}
