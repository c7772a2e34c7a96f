using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>A worker that failed in a sitting.</summary>
/// <param name="Exception">How.</param>
/// <param name="Cell">The cell whose operation it was at; null for none.</param>
internal sealed record LostWorker(WorkerException Exception, CellDescription? Cell);
