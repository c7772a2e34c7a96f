using Tachyscope.Runs;

namespace Tachyscope.Lab.Machines;

/// <summary>Remembers, from run to run, what the gauge reads on a quiet core of this machine.</summary>
public interface IGaugeMemory
{
    /// <summary>The lowest seen by such a worker, in thousandths; null when none was.</summary>
    /// <param name="worker">The worker's runtime.</param>
    int? Find(WorkerEnvironment worker);

    /// <summary>Keeps what was seen where it is lower than what was; never throws.</summary>
    /// <param name="worker">The worker's runtime.</param>
    /// <param name="low">What was seen.</param>
    /// <param name="isCertain">Whether what was kept before was wrong, and this takes its place although it is higher.</param>
    void Keep(WorkerEnvironment worker, int low, bool isCertain = false);
}
