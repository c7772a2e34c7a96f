using Tachyscope.Runs;

namespace Tachyscope.Lab.Machines;

/// <summary>What the gauge reads on each target when the core is ours alone, as far as is known.</summary>
/// <remarks>
/// The lowest that this run or an earlier one on this machine has seen, since a core may be shared for a whole run; and where what was seen
/// scatters as on a shared core, never more than such a processor reads at all.
/// </remarks>
public sealed class QuietCore
{
    // Four additions at once and three cycles a multiplication give 1.0; 1.27 was seen, where they get in each other's way.
    private const int MostOfX64 = 1350;
    private const int MostOfOthers = 1600;

    // Workers one after the other that saw a quiet core, all of them beyond what was taken for one.
    private const int TimesUntilWrong = 3;

    private readonly IReadOnlyList<WorkerEnvironment> _targets;
    private readonly IGaugeMemory? _memory;
    private readonly int[] _low;
    private readonly List<int>[] _beyond;
    private readonly Lock _lock = new();

    /// <summary>What is known before the first sitting.</summary>
    /// <param name="targets">The targets, as their workers introduced themselves.</param>
    /// <param name="memory">What earlier runs have seen; null when nothing is remembered.</param>
    public QuietCore(IReadOnlyList<WorkerEnvironment> targets, IGaugeMemory? memory)
    {
        ArgumentNullException.ThrowIfNull(targets);
        (_targets, _memory) = (targets, memory);
        _low = [.. targets.Select(target => memory?.Find(target) ?? 0)];
        _beyond = [.. targets.Select(_ => new List<int>())];
    }

    /// <summary>The gauge of a quiet core on a target, in thousandths; 0 before anything was seen.</summary>
    /// <param name="target">Index of the target.</param>
    public int LowOf(int target)
    {
        lock (_lock)
        {
            return _low[target];
        }
    }

    /// <summary>The largest that still counts as quiet; 0 before anything was seen.</summary>
    /// <param name="target">Index of the target.</param>
    public int MostOf(int target) => (int)(TurnGauge.QuietReach * LowOf(target));

    /// <summary>Learns what a worker saw in its quietest moments, and remembers it.</summary>
    /// <param name="target">Index of the target.</param>
    /// <param name="low">Its low gauge, in thousandths; 0 when it read none.</param>
    /// <param name="isSharp">Whether its lowest gauges lay as close together as those of a quiet core.</param>
    public void Note(int target, int low, bool isSharp)
    {
        if (low <= 0)
        {
            return;
        }

        lock (_lock)
        {
            if (!isSharp)
            {
                // Nothing to go by, unless there is nothing else.
                _low[target] = _low[target] == 0 ? Math.Min(low, Most(target)) : _low[target];
                return;
            }

            var isBeyond = _low[target] > 0 && low > MostOf(target) && low <= Most(target);
            _beyond[target] = isBeyond ? [.. _beyond[target], low] : [];
            // What is remembered was of another processor, or of a disturbed gauge.
            var isWrong = _beyond[target].Count == TimesUntilWrong;
            _low[target] = isWrong ? _beyond[target].Min() : _low[target] == 0 ? low : Math.Min(low, _low[target]);
            _memory?.Keep(_targets[target], isWrong ? _low[target] : low, isWrong);
        }
    }

    private int Most(int target) => _targets[target].Architecture == "x64" ? MostOfX64 : MostOfOthers;
}
