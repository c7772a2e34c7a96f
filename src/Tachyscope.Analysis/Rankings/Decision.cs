namespace Tachyscope.Analysis.Rankings;

/// <summary>Which row to take where only one can be taken, and what is known of that choice.</summary>
public sealed record Decision
{
    /// <summary>Number of threads it is for; null when calls come from one.</summary>
    public required int? Threads { get; init; }

    /// <summary>Index of the row that loses least by the estimates, on the input on which it loses most.</summary>
    public required int Row { get; init; }

    /// <summary>What it loses there.</summary>
    public required Loss Loss { get; init; }

    /// <summary>Index of the input on which it may lose most.</summary>
    public required int WorstInput { get; init; }

    /// <summary>Index of the row it may lose most to there.</summary>
    public required int WorstOther { get; init; }

    /// <summary>Whether it is shown to be faster than all others on every input.</summary>
    public required bool IsFastest { get; init; }

    /// <summary>Inputs it is decided on: those on which all that are ranked have figures.</summary>
    public required int Inputs { get; init; }
}
