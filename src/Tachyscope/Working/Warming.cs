using System.Runtime.CompilerServices;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>One cell on its way to being read.</summary>
internal sealed class Warming(int index, MeasuredCell cell)
{
    private const int MostPoints = 64;
    private const int PointsAtEnd = 3;
    private const double AsFastAsInTheEnd = 1.1;
    private const double BytesTolerance = 0.01;

    // A call as long as this is warm after its first: what is compiled later is called from loops inside it.
    private const double SlowCallNanoseconds = 250_000_000;

    // A call as long as this spends its time in what it calls, or in loops that are replaced while they run: a few of them tell.
    private const double LongCallNanoseconds = 10_000_000;
    private const int LeastLongCalls = 8;

    // Slices with compilation in them, one after the other, that show an operation to compile code at every call.
    private const int CompilingSlices = 16;

    private readonly Point[] _points = new Point[MostPoints];
    private int _count;
    private long _calls;
    private long _nextPoint = 1;
    private double _nanoseconds;
    private int _compiled;
    private double _bytes = double.NaN;

    public int Index { get; } = index;

    public MeasuredCell Cell { get; } = cell;

    public WarmUpWatch Watch { get; private set; } = new();

    /// <summary>Calls made while another loop was watched.</summary>
    public long CallsBefore { get; private set; }

    public Reading FirstCall { get; set; }

    public bool IsSettled { get; set; }

    /// <summary>When it was found settled, in milliseconds; null as long as it is not.</summary>
    public double? SettledMilliseconds { get; set; }

    /// <summary>When a method was last compiled during its calls.</summary>
    public double? LastCompiledMilliseconds { get; private set; }

    /// <summary>When its bytes per call last changed.</summary>
    public double? BytesChangedMilliseconds { get; private set; }

    /// <summary>Reads and writes asked of the system, per call.</summary>
    public double? ReadsAndWritesPerCall { get; set; }

    public double ExceptionsPerCall { get; set; }

    /// <summary>Whether a single call, and not only the first one, takes so long that it is not repeated only to be warm.</summary>
    public bool IsSlow
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => Watch.FastestNanosecondsPerCall > SlowCallNanoseconds;
    }

    /// <summary>Whether it was called often enough for its code to be the last.</summary>
    /// <param name="leastCalls">As often as a short one has to be.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool IsCalledEnough(int leastCalls)
        => CallsBefore + Watch.Calls
            >= (Watch.FastestNanosecondsPerCall > LongCallNanoseconds ? Math.Min(LeastLongCalls, leastCalls) : leastCalls);

    /// <summary>Slices one after the other in which something was compiled.</summary>
    public int Compiling { get; set; }

    /// <summary>
    /// Whether it compiles code at every call: it is set aside while the others are warmed, since the runtime optimises
    /// nothing as long as new code keeps coming.
    /// </summary>
    public bool IsCompiling
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => Compiling >= CompilingSlices;
    }

    // A point where the calls have doubled: a few dozen for any number of calls.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Note(double milliseconds, Reading slice)
    {
        _calls += slice.Calls;
        _nanoseconds += slice.ElapsedNanoseconds;
        _compiled += slice.CompiledMethods;
        if (slice.CompiledMethods > 0)
        {
            LastCompiledMilliseconds = milliseconds;
        }

        var bytes = (double)slice.AllocatedBytes / slice.Calls;
        if (Math.Abs(bytes - _bytes) > Math.Max(1, BytesTolerance * _bytes))
        {
            BytesChangedMilliseconds = milliseconds;
        }

        _bytes = bytes;
        if (_count < MostPoints && _calls >= _nextPoint)
        {
            _points[_count++] = new(_calls, _nanoseconds * 1e-6, milliseconds, slice.NanosecondsPerCall, bytes, _compiled);
            _compiled = 0;
            _nextPoint = _calls * 2;
        }
    }

    /// <summary>Calls, and time in them, until it ran as fast as in the end, within a tenth, and stayed so.</summary>
    public (long Calls, double Milliseconds) UntilFast()
    {
        if (_count <= PointsAtEnd)
        {
            return (0, 0);
        }

        // The points double, so that the last few are most of the calls.
        double[] end = [.. _points[(_count - PointsAtEnd).._count].Select(point => point.NanosecondsPerCall).Order()];
        var first = _count - PointsAtEnd;
        while (first > 0 && _points[first - 1].NanosecondsPerCall <= end[PointsAtEnd / 2] * AsFastAsInTheEnd)
        {
            first--;
        }

        return first == 0 ? (0, 0) : (_points[first - 1].Calls, _points[first - 1].OwnMilliseconds);
    }

    public IReadOnlyList<WarmUpPoint> Curve() => [.. _points[.._count].Select(point => new WarmUpPoint
    {
        Calls = point.Calls,
        Milliseconds = point.Milliseconds,
        NanosecondsPerCall = point.NanosecondsPerCall,
        AllocatedBytesPerCall = point.Bytes,
        CompiledMethods = point.Compiled,
    })];

    public void WatchAnew()
    {
        CallsBefore += Watch.Calls;
        Watch = new WarmUpWatch();
        Unsettle();
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Unsettle()
    {
        IsSettled = false;
        SettledMilliseconds = null;
    }

    private readonly record struct Point(long Calls, double OwnMilliseconds, double Milliseconds, double NanosecondsPerCall, double Bytes, int Compiled);
}
