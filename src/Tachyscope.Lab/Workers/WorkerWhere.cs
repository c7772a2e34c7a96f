using Tachyscope.Protocol;

namespace Tachyscope.Lab.Workers;

/// <summary>Where in the user's code a worker was.</summary>
/// <param name="Place">In what of it.</param>
/// <param name="Index">Index of the input, of the cell among those of its worker, or of the row.</param>
public readonly record struct WorkerWhere(WorkerPlace Place, int Index);
