namespace Tachyscope.Lab.Experiments;

/// <summary>Decides how many sittings a study gets and how many rounds each holds. Pure arithmetic on times.</summary>
public sealed class Schedule
{
    /// <summary>Sittings when no time is given: docs/method.md, "The experiment".</summary>
    public const int DefaultSittings = 6;

    private const int FewestSittings = 2;
    private const int EnoughSittings = 10;
    private const int MostSittings = 40;
    private const int FewestRounds = 10;
    private const int FewestRoundsInTime = 3;
    private const int MostDefaultRounds = 60;
    private const int MostRoundsInTime = 2_000;
    private const double DefaultReadingSeconds = 0.25;
    private const double LongestDefaultReadingSeconds = 2;
    private const double SecondsPerSitting = 1.5;
    private const double PrecisionCapSeconds = 60;
    private const double LeastDefaultCapSeconds = 15;
    private const double DefaultCapSecondsPerCell = 2;
    private const double ReadingOverrun = 2;

    // Some sittings take longer than others until they are warm.
    private const double SittingReserve = 1.1;

    private readonly double? _withinSeconds;
    private readonly bool _seeksPrecision;
    private readonly double _defaultCapSeconds;

    /// <summary>A schedule for one study.</summary>
    /// <param name="withinSeconds">Time the study may take, in seconds; null for the default.</param>
    /// <param name="seeksPrecision">Whether sittings go on until the contrasts are tight enough.</param>
    /// <param name="cells">Cells of a sitting.</param>
    public Schedule(double? withinSeconds, bool seeksPrecision, int cells = 1)
    {
        _defaultCapSeconds = Math.Max(LeastDefaultCapSeconds, DefaultCapSecondsPerCell * cells);
        _withinSeconds = withinSeconds;
        _seeksPrecision = seeksPrecision;
    }

    /// <summary>Sittings planned; the most there can be when they go on until a precision is reached.</summary>
    public int Sittings => _seeksPrecision ? MostSittings : PlannedSittings;

    /// <summary>Sittings after which the precision reached is looked at for the first time.</summary>
    public int SittingsBeforePrecision => Math.Min(DefaultSittings, PlannedSittings);

    // More time first buys more sittings, then more rounds in each.
    private int PlannedSittings => _withinSeconds is { } within
        ? Math.Clamp((int)(within / SecondsPerSitting), FewestSittings, EnoughSittings)
        : DefaultSittings;

    /// <summary>Rounds a sitting holds in any case.</summary>
    /// <param name="roundSeconds">Time one round takes.</param>
    public int LeastRounds(double roundSeconds)
        => Math.Min(_withinSeconds is null ? FewestRounds : FewestRoundsInTime, FewestByDefault(roundSeconds));

    /// <summary>Rounds a sitting holds at most.</summary>
    /// <param name="roundSeconds">Time one round takes.</param>
    public int MostRounds(double roundSeconds)
        => _withinSeconds is null || _seeksPrecision ? ByDefault(roundSeconds) : MostRoundsInTime;

    /// <summary>Time for the readings of the sitting that is about to be read, in seconds.</summary>
    /// <param name="sitting">Its number, from 1.</param>
    /// <param name="roundSeconds">Time one round takes.</param>
    /// <param name="elapsedSeconds">Time the study has taken so far, this sitting's warming included.</param>
    /// <param name="overheadSeconds">Time a sitting takes beside its rounds.</param>
    public double ReadingSeconds(int sitting, double roundSeconds, double elapsedSeconds, double overheadSeconds)
    {
        var byDefault = ReadingOverrun * ByDefault(roundSeconds) * roundSeconds;
        if (_withinSeconds is not { } within)
        {
            return byDefault;
        }

        // As many more sittings as fit; they and this one share what is left once each had its overhead.
        var least = LeastRounds(roundSeconds) * roundSeconds;
        var left = within - elapsedSeconds;
        var planned = (_seeksPrecision ? SittingsBeforePrecision : Sittings) - sitting;
        var next = SittingReserve * (overheadSeconds + least);
        var more = Math.Clamp((int)((left - least) / next), 0, Math.Max(0, planned));
        return (left - (more * next)) / (more + 1);
    }

    /// <summary>Whether another sitting is to be held.</summary>
    /// <param name="held">Sittings held so far.</param>
    /// <param name="elapsedSeconds">Time the study has taken so far.</param>
    /// <param name="leastSeconds">Time one more sitting takes with no more than its least rounds.</param>
    /// <param name="isPreciseEnough">Whether the contrasts are tight enough.</param>
    public bool GoesOn(int held, double elapsedSeconds, double leastSeconds, bool isPreciseEnough)
    {
        if (held >= Sittings || (_seeksPrecision && isPreciseEnough && held >= SittingsBeforePrecision))
        {
            return false;
        }

        if (_withinSeconds is { } within)
        {
            return held == 0 || elapsedSeconds + leastSeconds <= within;
        }

        // A machine whose host gives it half the time takes twice as long; it gets fewer sittings, never a long wait.
        var cap = _seeksPrecision ? PrecisionCapSeconds : _defaultCapSeconds;
        return held < FewestSittings || elapsedSeconds + leastSeconds <= cap;
    }

    private static int FewestByDefault(double roundSeconds) => Math.Clamp((int)(LongestDefaultReadingSeconds / roundSeconds), 1, FewestRounds);

    private static int ByDefault(double roundSeconds)
        => Math.Clamp((int)(DefaultReadingSeconds / roundSeconds), FewestByDefault(roundSeconds), MostDefaultRounds);
}
