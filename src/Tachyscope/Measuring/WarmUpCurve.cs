using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>A cell's way from its first call on, kept where its calls have doubled: a few dozen points for any number of calls.</summary>
/// <remarks>Optimised at once and free of anything that would be compiled late: see <see cref="WarmUpWatch"/>.</remarks>
internal sealed class WarmUpCurve
{
    private const int MostPoints = 64;
    private const int PointsAtEnd = 3;
    private const double AsFastAsInTheEnd = 1.1;
    private const double BytesTolerance = 0.01;

    private readonly Point[] _points = new Point[MostPoints];
    private int _count;
    private long _calls;
    private long _nextPoint = 1;
    private double _nanoseconds;
    private int _compiled;
    private double _bytes = double.NaN;

    /// <summary>When a method was last compiled during its calls.</summary>
    public double? LastCompiledMilliseconds { get; private set; }

    /// <summary>When its bytes per call last changed.</summary>
    public double? BytesChangedMilliseconds { get; private set; }

    /// <summary>Keeps a stretch of calls.</summary>
    /// <param name="milliseconds">When it ended.</param>
    /// <param name="calls">Calls.</param>
    /// <param name="nanoseconds">Time of all of them.</param>
    /// <param name="allocatedBytes">Bytes allocated by all of them.</param>
    /// <param name="compiledMethods">Methods compiled meanwhile.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Note(double milliseconds, long calls, double nanoseconds, long allocatedBytes, int compiledMethods)
    {
        _calls += calls;
        _nanoseconds += nanoseconds;
        _compiled += compiledMethods;
        if (compiledMethods > 0)
        {
            LastCompiledMilliseconds = milliseconds;
        }

        var bytes = (double)allocatedBytes / calls;
        if (Math.Abs(bytes - _bytes) > Math.Max(1, BytesTolerance * _bytes))
        {
            BytesChangedMilliseconds = milliseconds;
        }

        _bytes = bytes;
        if (_count < MostPoints && _calls >= _nextPoint)
        {
            _points[_count++] = new(_calls, _nanoseconds * 1e-6, milliseconds, nanoseconds / calls, bytes, _compiled);
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

    /// <summary>The points, in their order.</summary>
    public IReadOnlyList<WarmUpPoint> Points() => [.. _points[.._count].Select(point => new WarmUpPoint
    {
        Calls = point.Calls,
        Milliseconds = point.Milliseconds,
        NanosecondsPerCall = point.NanosecondsPerCall,
        AllocatedBytesPerCall = point.Bytes,
        CompiledMethods = point.Compiled,
    })];

    private readonly record struct Point(
        long Calls, double OwnMilliseconds, double Milliseconds, double NanosecondsPerCall, double Bytes, int Compiled);
}
