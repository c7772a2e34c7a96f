namespace Tachyscope.Measuring;

/// <summary>Decides from what a cell did so far whether its speed and allocation have come to rest.</summary>
internal sealed class WarmUpWatch
{
    // A change of code changes the speed by more; a machine that changes its clock, mostly by less.
    private const double SpeedTolerance = 0.03;
    private const double StandardErrorsTolerated = 3;
    private const double WindowMilliseconds = 100;

    private readonly List<Slice> _slices = [];

    public long Calls { get; private set; }

    /// <summary>Time of one call in the last window, in nanoseconds; NaN before the first slice.</summary>
    public double NanosecondsPerCall => Median(Window(0, _slices.Count == 0 ? 0 : _slices[^1].EndMilliseconds).Select(slice => slice.NanosecondsPerCall));

    public void Add(double endMilliseconds, long calls, double nanoseconds, double metronomeNanoseconds, long allocatedBytes)
    {
        Calls += calls;
        _slices.Add(new Slice(endMilliseconds, nanoseconds / calls, nanoseconds / calls / metronomeNanoseconds, (double)allocatedBytes / calls));
    }

    /// <summary>Whether the last window is as fast as the one before, in beats of the metronome, and allocates the same.</summary>
    public bool IsSteady()
    {
        if (_slices.Count == 0)
        {
            return false;
        }

        var now = _slices[^1].EndMilliseconds;
        var last = Window(0, now);
        var before = Window(1, now);
        if (last.Count < 2 || before.Count < 2)
        {
            return false;
        }

        var speed = Median(last.Select(slice => slice.Beats));
        var speedBefore = Median(before.Select(slice => slice.Beats));
        // A noisy cell may differ by what its own scatter allows.
        var scatter = StandardErrorOfMedian(before, speedBefore) + StandardErrorOfMedian(last, speed);
        var allowed = Math.Max(SpeedTolerance * speedBefore, StandardErrorsTolerated * scatter);
        var bytes = Median(last.Select(slice => slice.BytesPerCall));
        var bytesBefore = Median(before.Select(slice => slice.BytesPerCall));
        return Math.Abs(speed - speedBefore) <= allowed && Math.Abs(bytes - bytesBefore) <= Math.Max(1, 0.01 * bytesBefore);
    }

    private static double StandardErrorOfMedian(List<Slice> slices, double median)
        => 1.4826 * 1.2533 * Median(slices.Select(slice => Math.Abs(slice.Beats - median))) / Math.Sqrt(slices.Count);

    private static double Median(IEnumerable<double> values)
    {
        var sorted = values.Order().ToArray();
        return sorted.Length == 0 ? double.NaN : (sorted[(sorted.Length - 1) / 2] + sorted[sorted.Length / 2]) / 2;
    }

    private List<Slice> Window(int back, double now)
    {
        var end = now - (back * WindowMilliseconds);
        return [.. _slices.Where(slice => slice.EndMilliseconds <= end && slice.EndMilliseconds > end - WindowMilliseconds)];
    }

    private readonly record struct Slice(double EndMilliseconds, double NanosecondsPerCall, double Beats, double BytesPerCall);
}
