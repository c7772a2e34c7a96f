using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>A worker that failed in a sitting.</summary>
/// <param name="Exception">How.</param>
/// <param name="Cell">The cell whose operation it was at; null for none.</param>
internal sealed record LostWorker(WorkerException Exception, CellDescription? Cell)
{
    /// <summary>Whether it was a guest's, of which only the row is known: it need not tell what it is at.</summary>
    public bool IsGuest { get; init; }
}
