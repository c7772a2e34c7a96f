using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Diagnose"/>.</summary>
sealed partial record DiagnoseRequest
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>Seed handed to input factories that take one.</summary>
    public required int Seed { get; init; }

    /// <summary>The cell to look at.</summary>
    public required CellDescription Cell { get; init; }

    /// <summary>What to look for.</summary>
    public required DiagnosisKind Kind { get; init; }
}
