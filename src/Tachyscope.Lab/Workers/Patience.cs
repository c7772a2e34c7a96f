using System.Diagnostics;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Workers;

/// <summary>How long a worker may go without getting anywhere in the user's code, and until when the whole run may last.</summary>
/// <remarks>
/// What counts is one call: a worker that says where it is gets its patience anew with every call it begins. Nothing here ends a
/// run that gets on, only one that stands still.
/// </remarks>
public sealed class Patience
{
    private const double ShareOfTimeAllowed = 1.0 / 8;
    private const double ShareOfTimeAtEnd = 0.02;
    private static readonly TimeSpan Usual = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan Least = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan LeastToStart = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan LeastAtEnd = TimeSpan.FromMilliseconds(250);
    private static readonly TimeSpan ShortestLook = TimeSpan.FromMilliseconds(10);
    private static readonly TimeSpan LongestLook = TimeSpan.FromMilliseconds(500);

    // However busy the machine is, so much of the time counts: what hangs is told in the end, and the end of the time kept.
    private const double LeastShareSilent = 0.25;

    // A look that comes later than this did not find the worker silent: the machine itself stood still.
    private static readonly TimeSpan LongestSilence = LongestLook * 2;

    // Always the system's clock: what is waited for is a process.
    private readonly long _begun = Stopwatch.GetTimestamp();
    private readonly TimeSpan _forStart;
    private readonly TimeSpan? _allowed;

    /// <summary>The patience of a run that begins now.</summary>
    /// <param name="plan">What the run was asked to do.</param>
    /// <exception cref="ArgumentNullException"><paramref name="plan"/> is null.</exception>
    public Patience(RunPlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        _allowed = plan.WithinSeconds is { } within ? TimeSpan.FromSeconds(within) : null;
        var asked = plan.PatienceSeconds is { } seconds ? TimeSpan.FromSeconds(seconds) : (TimeSpan?)null;
        PerCall = asked ?? Between(Least, (_allowed * ShareOfTimeAllowed) ?? Usual, Usual);
        _forStart = asked ?? Usual;
    }

    /// <summary>How long one call may go without an answer: as asked; else an eighth of the time allowed, 2 s to 30 s.</summary>
    public TimeSpan PerCall { get; }

    /// <summary>Whether anything of the study at work is measured: from then on the end of the time allowed is kept closely.</summary>
    public bool IsAnythingHeld { get; set; }

    /// <summary>Whether the time of the run was over while a call was waited for, so that nothing more is begun.</summary>
    public bool HasRunOut { get; private set; }

    /// <summary>Time spent on building since the run began, which takes nothing of the time allowed.</summary>
    internal TimeSpan Building { get; private set; }

    /// <summary>Leaves out of the time allowed what building took.</summary>
    internal void LeaveOut(TimeSpan building) => Building += building;

    /// <summary>How long a request may go without getting anywhere.</summary>
    /// <param name="method">The request.</param>
    /// <param name="where">Where the worker is; null when it has not told yet.</param>
    /// <remarks>
    /// A worker that is at none of the user's code does our own work, and slowly only on a busy machine, or on a slow disk.
    /// </remarks>
    public TimeSpan For(string method, WorkerWhere? where)
        => method == WorkerMethods.Hello ? _forStart
            : where is { Place: WorkerPlace.Own } ? Between(Usual, PerCall, TimeSpan.MaxValue)
            : PerCall;

    /// <summary>Whether the time of the run is over for a worker that has stood still so long.</summary>
    /// <param name="silent">Time since it last got anywhere.</param>
    /// <param name="where">Where it is; null when it has not told yet.</param>
    public bool IsTimeOver(TimeSpan silent, WorkerWhere? where)
        => HasRunOut |= Left is { } left && left <= TimeSpan.Zero && silent >= AtEnd(where);

    /// <summary>When to look again at a worker that has stood still so long.</summary>
    /// <param name="method">The request it is at.</param>
    /// <param name="silent">Time since it last got anywhere.</param>
    /// <param name="where">Where it is; null when it has not told yet.</param>
    public TimeSpan NextLook(string method, TimeSpan silent, WorkerWhere? where)
    {
        var untilHung = For(method, where) - silent;
        var untilOver = Left is { } left ? TimeSpan.FromTicks(Math.Max(left.Ticks, (AtEnd(where) - silent).Ticks)) : untilHung;
        return Between(ShortestLook, untilOver < untilHung ? untilOver : untilHung, LongestLook);
    }

    /// <summary>
    /// How long a worker was silent between two looks: as long as the machine ran meanwhile and the worker did not wait its turn.
    /// </summary>
    /// <param name="between">The time between them.</param>
    /// <param name="waited">For how long of it, at most, the worker waited for a processor; below 0 when it kept them busy itself.</param>
    internal static TimeSpan Silence(TimeSpan between, TimeSpan waited)
        => Between(between * LeastShareSilent, between - waited, between) is var silence && silence < LongestSilence
            ? silence
            : LongestSilence;

    private TimeSpan? Left => _allowed + Building - Stopwatch.GetElapsedTime(_begun);

    // A call that takes its time is waited for as long as there is nothing to show without it, and a process that starts as long as
    // the whole run: on a busy machine both look as if they stood still.
    private TimeSpan AtEnd(WorkerWhere? where)
    {
        var (least, share) = where is null or { Place: WorkerPlace.Own } ? (LeastToStart, 1)
            : IsAnythingHeld ? (LeastAtEnd, ShareOfTimeAtEnd)
            : (Least, ShareOfTimeAllowed);
        return Between(least, _allowed * share ?? least, TimeSpan.MaxValue);
    }

    private static TimeSpan Between(TimeSpan least, TimeSpan value, TimeSpan most) => value < least ? least : value > most ? most : value;
}
