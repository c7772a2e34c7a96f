using System.Runtime;
using System.Runtime.CompilerServices;
using Tachyscope.Answers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>
/// Calls the cells in steps and then in turn until nothing was compiled for a while, builds their measured loops, and calls those until
/// nothing was compiled again and speed and allocation stand still: docs/method.md, "Warm-up".
/// </summary>
/// <remarks>
/// Twice, since a method that was inlined while it was called through the delegate may be called from the built loop, in a
/// version that was not optimised yet. Like <see cref="WarmUpWatch"/>, all this is optimised at once and free of anything
/// that would be compiled late.
/// </remarks>
internal sealed class Warmer
{
    private const double ShareBeforeBuilding = 0.6;

    // With all that is compiled for it.
    private const double MostNanosecondsOfFirstCall = 250e6;

    private const int LeastSteps = 2;
    private const int MostSteps = 8;
    private const double MostShareOfSteps = 0.5;

    // Of the quiet, after steps that ended with nothing to compile.
    private const double ShareAfterSteps = 0.4;

    private readonly WarmRequest _request;
    private readonly int _quietMilliseconds;
    private readonly List<CellError> _failures;
    private readonly Warming[] _warmings;
    private readonly CodeEar? _ear;
    private readonly WarmingCalls _calls = new();

    // What the longest call at hand takes that is repeated to be warm.
    private double _longestNanoseconds;

    // Whether the study as it is or its copies are being warmed.
    private bool _isOfCopies;

    public Warmer(WarmRequest request, IReadOnlyList<MeasuredCell> cells, List<CellError> failures, CodeEar? ear)
    {
        _request = request;
        _quietMilliseconds = request.QuietMilliseconds + (2 * OptimisationDelay.Milliseconds);
        _failures = failures;
        _ear = ear;
        _warmings = [.. request.Cells.Select(index => new Warming(index, cells[index]))];
        CountSharing();
    }

    /// <summary>Copies of the code that are warmed.</summary>
    public int Copies { get; private set; } = 1;

    /// <summary>What the gauge read in the quietest moments, and whether as sharply as on a core that is ours alone.</summary>
    public (int Low, bool IsSharp) LowGauge => _calls.LowGauge;

    private enum Step
    {
        FirstCall,
        Few,
        Slice,
        Build,
        Tally,
    }

    public double ElapsedMilliseconds
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => _calls.ElapsedMilliseconds;
    }

    public void Run()
    {
        // The instrument's own first reading loads what it needs, which must not be booked on an operation's first call.
        Metronome.Read();
        // The study as it is comes first and alone: framework code that calls back into it is optimised once, for those who called it until
        // then, and that is to be as in a program.
        Warm(copies: false);
        Each(Step.Tally);
        if (LeaveOutCopies())
        {
            Warm(copies: true);
            TellCopies();
        }

        foreach (var warming in _warmings)
        {
            Finish(warming);
            warming.Cell.Cold?.BeginCold();
        }

        // What the set-up left behind is collected now rather than in somebody's reading.
        GC.Collect();
        GC.WaitForPendingFinalizers();
    }

    private void Warm(bool copies)
    {
        _isOfCopies = copies;
        var begun = ElapsedMilliseconds;
        var end = begun + (_request.CapMilliseconds * ShareBeforeBuilding);
        Each(Step.FirstCall);
        var quiet = GoInSteps(ElapsedMilliseconds + ((end - begun) * MostShareOfSteps)) ? ShareAfterSteps : 1;
        Settle(end, quiet, isBuilt: false);
        _ear?.HearDecisions();
        Each(Step.Build);
        var leastAfter = ElapsedMilliseconds + (_request.CapMilliseconds * (1 - ShareBeforeBuilding));
        Settle(Math.Max(begun + _request.CapMilliseconds, leastAfter), quietShare: 1, isBuilt: true);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void CountSharing()
    {
        foreach (var warming in _warmings)
        {
            var own = warming.Cell.Description;
            if (own.Kind is not (CellKind.Variant or CellKind.Twin))
            {
                continue;
            }

            foreach (var other in _warmings)
            {
                if (other != warming && other.Cell.Description is { Kind: CellKind.Variant or CellKind.Twin } others
                    && others.Variant == own.Variant && others.Copy == own.Copy)
                {
                    warming.Sharing++;
                }
            }
        }
    }

    // What is called without a pause may be compiled for good before what it calls has been watched at all: when that is put into it,
    // nothing is known of what is met there, and for the rest of the process it is many times as slow as in the next. So the first calls
    // come in steps, with the compiler's time between them.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool GoInSteps(double capMilliseconds)
    {
        if (!OptimisationDelay.IsShort)
        {
            return false;
        }

        var compiled = JitInfo.GetCompiledMethodCount();
        for (var step = 0; step < MostSteps && ElapsedMilliseconds < capMilliseconds; step++)
        {
            CompilerLull.Await(capMilliseconds - ElapsedMilliseconds);
            var compiledNow = JitInfo.GetCompiledMethodCount();
            if (step >= LeastSteps && compiledNow == compiled)
            {
                return true;
            }

            compiled = compiledNow;
            Each(Step.Few);
        }

        return false;
    }

    // Of calls that take long, more copies would take all the time there is.
    private bool LeaveOutCopies()
    {
        var isSlow = Array.Exists(_warmings, warming => warming.FirstCall.ElapsedNanoseconds > MostNanosecondsOfFirstCall);
        foreach (var warming in _warmings)
        {
            warming.Cell.HasFailed |= isSlow && warming.Cell.Description.Copy > 0;
        }

        Copies = 1 + _warmings.Where(warming => !warming.Cell.HasFailed)
            .Select(warming => warming.Cell.Description.Copy).DefaultIfEmpty(0).Max();
        return Copies > 1;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Settle(double capMilliseconds, double quietShare, bool isBuilt)
    {
        var compiled = JitInfo.GetCompiledMethodCount();
        var quietSince = ElapsedMilliseconds;
        _calls.Forget();
        while (true)
        {
            _longestNanoseconds = LongestCall();
            Each(Step.Slice);
            var now = ElapsedMilliseconds;
            var compiledNow = JitInfo.GetCompiledMethodCount();
            if (compiledNow != compiled)
            {
                compiled = compiledNow;
                quietSince = now;
                _calls.Forget();
                Forget();
            }

            if ((now - quietSince >= quietShare * _quietMilliseconds * _calls.Patience
                && (isBuilt ? AreAllSteady() : HaveAllBeenCalled())) || now >= capMilliseconds)
            {
                return;
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private double LongestCall()
    {
        var longest = 0.0;
        foreach (var warming in _warmings)
        {
            // Not a number before its first slice, and so not larger.
            if (IsAtHand(warming) && !warming.IsSlow && !warming.Cell.HasFailed && warming.Watch.FastestNanosecondsPerCall > longest)
            {
                longest = warming.Watch.FastestNanosecondsPerCall;
            }
        }

        return longest;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsAtHand(Warming warming) => warming.Cell.Description.Copy > 0 == _isOfCopies;

    // As often as the runtime waits for before it optimises a method, twice.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool HaveAllBeenCalled()
    {
        foreach (var warming in _warmings)
        {
            if (IsAtHand(warming) && !warming.IsCalledEnough(_request.LeastCalls)
                && !warming.IsSlow && !warming.IsCompiling && !warming.Cell.HasFailed)
            {
                return false;
            }
        }

        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Forget()
    {
        foreach (var warming in _warmings)
        {
            if (IsAtHand(warming))
            {
                warming.Unsettle();
            }
        }
    }

    // Once steady is enough: on a noisy machine many cells are hardly ever all steady at one moment.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool AreAllSteady()
    {
        var all = true;
        foreach (var warming in _warmings)
        {
            if (!IsAtHand(warming))
            {
                continue;
            }

            if (!warming.IsSettled
                && (warming.IsSlow || warming.IsCompiling || (warming.IsCalledEnough(_request.LeastCalls) && warming.Watch.IsSteady())))
            {
                warming.IsSettled = true;
                warming.SettledMilliseconds = ElapsedMilliseconds;
            }

            all &= warming.IsSettled || warming.Cell.HasFailed;
        }

        return all;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Each(Step step)
    {
        foreach (var warming in _warmings)
        {
            if (!IsAtHand(warming) || warming.Cell.HasFailed
                || (step is Step.Few or Step.Slice && (warming.IsSlow || warming.IsCompiling)))
            {
                continue;
            }

            try
            {
                Take(step, warming);
            }
#pragma warning disable CA1031 // Whatever the user's operation throws ends its cell, not the sitting.
            catch (Exception exception)
#pragma warning restore CA1031
            {
                warming.Cell.HasFailed = true;
                _failures.Add(new CellError { Cell = warming.Index, Reason = $"threw {ExceptionText.Of(exception)}" });
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Take(Step step, Warming warming)
    {
        switch (step)
        {
            case Step.FirstCall:
                _calls.First(warming);
                break;
            case Step.Few:
                _calls.Few(warming);
                break;
            case Step.Slice:
                _calls.Slice(warming, _request.LeastCalls, _longestNanoseconds);
                break;
            case Step.Build:
                warming.Cell.ChangeLoop();
                if (warming.IsCompiling)
                {
                    CellReader.Take(warming.Cell, 1);
                }
                else if (!warming.IsSlow)
                {
                    warming.WatchAnew();
                }

                break;
            default:
                if (!warming.IsSlow)
                {
                    WarmTally.Take(warming);
                }

                break;
        }
    }

    // What a copy of the code asks of the system, of other threads and of exceptions is what the first asks.
    private void TellCopies()
    {
        var first = _warmings.Where(warming => warming.Cell.Description.Copy == 0).ToDictionary(warming => warming.Cell.Description);
        foreach (var warming in _warmings.Where(warming => warming.Cell.Description.Copy > 0))
        {
            var counted = first[warming.Cell.Description with { Copy = 0 }];
            (warming.ExceptionsPerCall, warming.ReadsAndWritesPerCall, warming.WaitsPerCall)
                = (counted.ExceptionsPerCall, counted.ReadsAndWritesPerCall, counted.WaitsPerCall);
            warming.Cell.OtherThreadsShare = counted.Cell.OtherThreadsShare;
        }
    }

    private void Finish(Warming warming)
    {
        if (warming.Cell.HasFailed)
        {
            return;
        }

        warming.Cell.WarmUp = warming.Found(_request, _ear);
    }
}
