using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found of one study.</summary>
public sealed record StudyFindings
{
    /// <summary>The study.</summary>
    public required StudyDescription Study { get; init; }

    /// <summary>Its inputs, in the order they were defined.</summary>
    public required IReadOnlyList<InputFindings> Inputs { get; init; }

    /// <summary>Reasons to distrust the figures.</summary>
    public required IReadOnlyList<Caveat> Caveats { get; init; }

    /// <summary>Sittings held.</summary>
    public required int Sittings { get; init; }

    /// <summary>Rounds taken over all sittings.</summary>
    public required int Rounds { get; init; }

    /// <summary>Whether every contrast is as tight as a precision asks.</summary>
    /// <param name="precisionShare">Largest half-width, as a share of the baseline's time.</param>
    public bool IsPrecise(double precisionShare)
        => Inputs.SelectMany(input => input.Cells)
            .Where(cell => cell.Contrast is not null)
            .All(cell => cell.Contrast!.TimeRatio.Through(Math.Log).HalfWidth <= Math.Log(1 + precisionShare));
}
