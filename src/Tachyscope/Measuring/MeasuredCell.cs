using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>One cell set up in a worker: the loop that warms it and the loop that measures it.</summary>
internal sealed class MeasuredCell
{
    private readonly Func<MeasuredLoop> _build;

    private MeasuredCell(CellDescription description, MeasuredLoop throughDelegate, Func<MeasuredLoop> build)
    {
        Description = description;
        Loop = throughDelegate;
        _build = build;
    }

    public CellDescription Description { get; }

    /// <summary>Calls the operation; through its delegate until <see cref="BuildLoop"/> was called.</summary>
    public MeasuredLoop Loop { get; private set; }

    /// <summary>How it became ready; null until it was warmed.</summary>
    public WarmUp? WarmUp { get; set; }

    /// <summary>Whether it threw and takes no more part.</summary>
    public bool HasFailed { get; set; }

    public static MeasuredCell OfOperation<TInput, TResult>(CellDescription cell, TInput input, Func<TInput, TResult> operation)
    {
        var chamber = new Chamber<TInput, TResult>(input, operation);
        var warm = DelegateLoop.Around(chamber);
        return new(cell, warm, () => IsEmitted(cell) ? EmittedLoop.Around(chamber) : warm);
    }

    public static MeasuredCell OfIdentity<TInput, TResult>(CellDescription cell, TInput input)
    {
        var chamber = new Chamber<TInput, TResult>(input, static _ => default!);
        var echo = DelegateLoop.Around(new Chamber<TInput, TInput>(input, static value => value));
        return new(cell, echo, () => IsEmitted(cell) ? EmittedLoop.AroundIdentity(chamber) : echo);
    }

    public static MeasuredCell OfMetronome(CellDescription cell) => new(cell, Metronome.Loop, () => Metronome.Loop);

    /// <summary>
    /// Builds the measured loop. Done once the operation is warm, so that what the compiler inlines into it has its profile.
    /// </summary>
    public void BuildLoop() => Loop = _build();

    private static bool IsEmitted(CellDescription cell) => RuntimeFeature.IsDynamicCodeSupported && cell.Path == CallPath.Direct;
}
