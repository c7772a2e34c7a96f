using System.Diagnostics;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Seeks a processor whose core nobody else uses at the moment, and waits for one, within a budget.</summary>
/// <remarks>
/// On the machines looked at, a core is shared for stretches of 0.1 ms to seconds, and processors differ at the same moment. What is spent
/// seeking is never more than half of what is spent reading, and a little to begin with: a core that is shared all the time is read as
/// it is.
/// </remarks>
internal sealed class QuietSeeker
{
    private const double ShareOfReading = 0.5;
    private const double FirstNanoseconds = 20_000_000;
    private const double MostNanosecondsAtOnce = 2_000_000;

    // Moving costs as much as some ten gauges, and most stretches in which the core is shared last longer.
    private const int LooksBeforeMoving = 8;

    private static readonly double NanosecondsPerTick = 1e9 / Stopwatch.Frequency;

    private int[] _processors = [];
    private int _place;
    private int _most;
    private double _allowedNanoseconds = FirstNanoseconds;

    /// <summary>Processor the thread is held to; -1 when the system would not have it.</summary>
    public int Processor { get; private set; } = -1;

    /// <summary>Time spent seeking since it was last asked to begin, in nanoseconds.</summary>
    public double SoughtNanoseconds { get; private set; }

    /// <summary>Whether anything is known of what a quiet core reads.</summary>
    public bool IsWanted => _most > 0;

    /// <summary>Begins a request.</summary>
    /// <param name="processors">Processors that are alike and may be used.</param>
    /// <param name="most">Largest gauge of a quiet core, in thousandths; 0 when that is not known.</param>
    public void Begin(IReadOnlyList<int> processors, int most)
    {
        _processors = [.. processors];
        _most = most;
        SoughtNanoseconds = 0;
    }

    /// <summary>Moves to the processor a round begins on.</summary>
    /// <returns>Whether the thread is held to it.</returns>
    public bool MoveTo(int? processor)
    {
        if (processor is not { } wanted || !Affinity.TryPin(wanted))
        {
            Processor = -1;
            return false;
        }

        Processor = wanted;
        _place = Math.Max(0, Array.IndexOf(_processors, wanted));
        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public bool IsQuiet(int gauge) => gauge <= _most;

    /// <summary>Adds to the budget what was spent reading.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Earn(double nanoseconds) => _allowedNanoseconds += ShareOfReading * nanoseconds;

    /// <summary>Looks until the core is quiet, on one processor after the other, or the budget is spent.</summary>
    /// <returns>Whether the thread was moved, so that caches are to be filled again.</returns>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public bool Seek()
    {
        if (IsQuiet(Gauge.Read()))
        {
            return false;
        }

        var (begin, from) = (Stopwatch.GetTimestamp(), Processor);
        var allowed = Math.Min(_allowedNanoseconds, MostNanosecondsAtOnce);
        var spent = 0.0;
        for (var look = 1; spent < allowed; look++)
        {
            if (look % LooksBeforeMoving == 0)
            {
                MoveOn();
            }

            var isQuiet = IsQuiet(Gauge.Read());
            spent = (Stopwatch.GetTimestamp() - begin) * NanosecondsPerTick;
            if (isQuiet)
            {
                break;
            }
        }

        _allowedNanoseconds -= spent;
        SoughtNanoseconds += spent;
        return Processor != from;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void MoveOn()
    {
        if (Processor < 0 || _processors.Length < 2)
        {
            return;
        }

        _place = (_place + 1) % _processors.Length;
        if (Affinity.TryPin(_processors[_place]))
        {
            Processor = _processors[_place];
        }
    }
}
