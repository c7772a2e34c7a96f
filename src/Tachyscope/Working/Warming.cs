using System.Runtime.CompilerServices;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>One cell on its way to being read.</summary>
internal sealed class Warming(int index, MeasuredCell cell)
{
    // A call as long as this is warm after its first: what is compiled later is called from loops inside it.
    private const double SlowCallNanoseconds = 250_000_000;

    // A call as long as this spends its time in what it calls, or in loops that are replaced while they run: a few of them tell.
    private const double LongCallNanoseconds = 10_000_000;
    private const int LeastLongCalls = 8;

    // What a stretch of a mix may take, to be read as a whole.
    private const double MostReadingStretchNanoseconds = 1_000_000_000;

    // Slices with compilation in them, one after the other, that show an operation to compile code at every call.
    private const int CompilingSlices = 16;

    public int Index { get; } = index;

    public MeasuredCell Cell { get; } = cell;

    /// <summary>Cells that call the same method, this one with them: on several inputs, and the twin.</summary>
    public int Sharing { get; set; } = 1;

    public WarmUpWatch Watch { get; private set; } = new();

    /// <summary>Calls made while another loop was watched.</summary>
    public long CallsBefore { get; private set; }

    public Reading FirstCall { get; set; }

    public bool IsSettled { get; set; }

    /// <summary>When it was found settled, in milliseconds; null as long as it is not.</summary>
    public double? SettledMilliseconds { get; set; }

    /// <summary>Its way so far.</summary>
    public WarmUpCurve Curve { get; } = new();

    /// <summary>Reads and writes asked of the system, per call.</summary>
    public double? ReadsAndWritesPerCall { get; set; }

    /// <summary>Times it left the processor of its own accord, per call.</summary>
    public double? WaitsPerCall { get; set; }

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

    /// <summary>What its warming came to.</summary>
    /// <param name="request">What was asked for.</param>
    /// <param name="ear">What heard the compiler; null where nothing did.</param>
    public WarmUp Found(WarmRequest request, CodeEar? ear)
    {
        var perCall = Watch.FastestNanosecondsPerCall;
        var (calls, milliseconds) = Curve.UntilFast();
        var perReading = request.ReadingNanoseconds * Cell.ReadingFactor / Math.Max(perCall, 0.1);
        return new WarmUp
        {
            Cell = Index,
            FirstCallNanoseconds = FirstCall.ElapsedNanoseconds,
            FirstCallAllocatedBytes = FirstCall.AllocatedBytes,
            Calls = 1 + CallsBefore + Watch.Calls,
            IsSettled = IsSettled,
            SettledMilliseconds = SettledMilliseconds,
            LastCompiledMilliseconds = Curve.LastCompiledMilliseconds,
            BytesChangedMilliseconds = Curve.BytesChangedMilliseconds,
            CallsUntilFast = calls,
            MillisecondsUntilFast = milliseconds,
            NanosecondsPerCall = perCall,
            CallsPerReading = Cell.InStretches(
                Math.Clamp((long)perReading, 1, Math.Min(Cell.MostCalls, Cell.Cold?.MostCalls ?? long.MaxValue)), perCall,
                MostReadingStretchNanoseconds),
            ExceptionsPerCall = ExceptionsPerCall,
            ReadsAndWritesPerCall = ReadsAndWritesPerCall,
            WaitsPerCall = WaitsPerCall,
            OtherThreadsShare = Cell.OtherThreadsShare,
            Code = ear?.Of(Cell, Cell.Loop),
            Curve = Curve.Points(),
        };
    }

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
}
