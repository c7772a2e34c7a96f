using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Decides from what a cell did so far whether its speed and allocation have come to rest.</summary>
/// <remarks>
/// Plain loops over arrays, optimised at once: it runs between the calls it watches, and every method of ours that the
/// runtime had to compile or recompile there would put off the moment at which nothing is compiled any more.
/// </remarks>
/// <param name="windowMilliseconds">Length of the windows that have to agree; enough where it is also heard what is compiled.</param>
internal sealed class WarmUpWatch(double windowMilliseconds = 50)
{
    private const int Capacity = 4_096;
    private const int FewestSlices = 3;

    // A change of code changes the speed by more; a machine that changes its clock, mostly by less.
    private const double SpeedTolerance = 0.03;
    private const double BytesTolerance = 0.01;
    private const double StandardErrorsTolerated = 3;

    // Standard error of a median of n normal values: 1.2533 times that of their mean, the deviation estimated from the
    // median of absolute deviations.
    private const double DeviationOfMedian = 1.4826 * 1.2533;

    private static readonly int[] Gaps = [701, 301, 132, 57, 23, 10, 4, 1];

    private readonly double[] _ends = new double[Capacity];
    private readonly double[] _beats = new double[Capacity];
    private readonly double[] _bytes = new double[Capacity];
    private readonly double[] _sorted = new double[Capacity];
    private int _count;

    public long Calls { get; private set; }

    /// <summary>Time of one call in the last slice, in nanoseconds; NaN before the first.</summary>
    public double NanosecondsPerCall { get; private set; } = double.NaN;

    /// <summary>Time of one call in the fastest slice, in nanoseconds: what it takes when nothing interrupts it.</summary>
    public double FastestNanosecondsPerCall { get; private set; } = double.NaN;

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Add(double endMilliseconds, long calls, double nanoseconds, double metronomeNanoseconds, long allocatedBytes)
    {
        if (_count == Capacity)
        {
            KeepNewerHalf();
        }

        Calls += calls;
        NanosecondsPerCall = nanoseconds / calls;
        FastestNanosecondsPerCall = NanosecondsPerCall >= FastestNanosecondsPerCall ? FastestNanosecondsPerCall : NanosecondsPerCall;
        _ends[_count] = endMilliseconds;
        _beats[_count] = nanoseconds / calls / metronomeNanoseconds;
        _bytes[_count] = (double)allocatedBytes / calls;
        _count++;
    }

    /// <summary>Whether the last window is as fast as the one before, in beats of the metronome, and allocates the same.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public bool IsSteady()
    {
        if (_count == 0)
        {
            return false;
        }

        // Of calls so long that few fall into a window, a few have to do.
        var middle = Math.Min(First(_ends[_count - 1] - windowMilliseconds), _count - FewestSlices);
        if (middle < FewestSlices)
        {
            return false;
        }

        var first = Math.Min(First(_ends[_count - 1] - (2 * windowMilliseconds)), middle - FewestSlices);

        var speed = Median(_beats, middle, _count);
        var scatter = StandardError(middle, _count, speed);
        var speedBefore = Median(_beats, first, middle);
        scatter += StandardError(first, middle, speedBefore);
        var bytes = Median(_bytes, middle, _count);
        var bytesBefore = Median(_bytes, first, middle);
        // A noisy cell may differ by what its own scatter allows.
        return Math.Abs(speed - speedBefore) <= Math.Max(SpeedTolerance * speedBefore, StandardErrorsTolerated * scatter)
            && Math.Abs(bytes - bytesBefore) <= Math.Max(1, BytesTolerance * bytesBefore);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private int First(double afterMilliseconds)
    {
        var index = _count;
        while (index > 0 && _ends[index - 1] > afterMilliseconds)
        {
            index--;
        }

        return index;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private double Median(double[] values, int from, int to)
    {
        Array.Copy(values, from, _sorted, 0, to - from);
        return MedianOfSorted(to - from);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private double StandardError(int from, int to, double median)
    {
        for (var i = from; i < to; i++)
        {
            _sorted[i - from] = Math.Abs(_beats[i] - median);
        }

        return DeviationOfMedian * MedianOfSorted(to - from) / Math.Sqrt(to - from);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private double MedianOfSorted(int count)
    {
        Sort(count);
        return (_sorted[(count - 1) / 2] + _sorted[count / 2]) / 2;
    }

    // Shell's sort, 1959, by Ciura's gaps, 2001: the library's own would be compiled again and again while it is watched.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Sort(int count)
    {
        for (var step = 0; step < Gaps.Length; step++)
        {
            var gap = Gaps[step];
            for (var i = gap; i < count; i++)
            {
                var value = _sorted[i];
                var place = i;
                for (; place >= gap && _sorted[place - gap] > value; place -= gap)
                {
                    _sorted[place] = _sorted[place - gap];
                }

                _sorted[place] = value;
            }
        }
    }

    private void KeepNewerHalf()
    {
        _count = Capacity / 2;
        Array.Copy(_ends, _count, _ends, 0, _count);
        Array.Copy(_beats, _count, _beats, 0, _count);
        Array.Copy(_bytes, _count, _bytes, 0, _count);
    }
}
