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
    private const int MostDefaultRounds = 60;
    private const int MostRounds = 2_000;
    private const double DefaultReadingSeconds = 0.25;
    private const double LongestDefaultReadingSeconds = 2;
    private const double SecondsPerSitting = 1;
    private const double PrecisionCapSeconds = 60;
    private const double LeastDefaultCapSeconds = 15;
    private const double DefaultCapSecondsPerCell = 2;
    private const double ReadingOverrun = 2;

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

    /// <summary>Rounds for the sitting that is about to be read.</summary>
    /// <param name="sitting">Its number, from 1.</param>
    /// <param name="roundSeconds">Time one round takes.</param>
    /// <param name="elapsedSeconds">Time the study has taken so far, this sitting's warming included.</param>
    /// <param name="overheadSeconds">Time a sitting takes beside its rounds.</param>
    public int Rounds(int sitting, double roundSeconds, double elapsedSeconds, double overheadSeconds)
    {
        var fewest = Math.Clamp((int)(LongestDefaultReadingSeconds / roundSeconds), 1, FewestRounds);
        var byDefault = Math.Clamp((int)(DefaultReadingSeconds / roundSeconds), fewest, MostDefaultRounds);
        if (_withinSeconds is not { } within)
        {
            return byDefault;
        }

        var left = Math.Max(1, (_seeksPrecision ? SittingsBeforePrecision : Sittings) - sitting + 1);
        var share = ((within - elapsedSeconds) / left) - (overheadSeconds * (left - 1) / left);
        var inTime = (int)Math.Clamp(share / roundSeconds, fewest, MostRounds);
        return _seeksPrecision ? Math.Min(inTime, byDefault) : inTime;
    }

    /// <summary>When a sitting ends although rounds are left: its readings took twice the time they were to take.</summary>
    /// <param name="rounds">Rounds planned.</param>
    /// <param name="roundSeconds">Time one round was to take.</param>
    public static double LongestReadingSeconds(int rounds, double roundSeconds) => ReadingOverrun * rounds * roundSeconds;

    /// <summary>Whether another sitting is to be held.</summary>
    /// <param name="held">Sittings held so far.</param>
    /// <param name="elapsedSeconds">Time the study has taken so far.</param>
    /// <param name="sittingSeconds">Time one more sitting is likely to take.</param>
    /// <param name="isPreciseEnough">Whether the contrasts are tight enough.</param>
    public bool GoesOn(int held, double elapsedSeconds, double sittingSeconds, bool isPreciseEnough)
    {
        if (held >= Sittings || (_seeksPrecision && isPreciseEnough && held >= SittingsBeforePrecision))
        {
            return false;
        }

        // A machine whose host gives it half the time takes twice as long; it gets fewer sittings, never a long wait.
        var cap = _withinSeconds ?? (_seeksPrecision ? PrecisionCapSeconds : _defaultCapSeconds);
        return held < FewestSittings || elapsedSeconds + sittingSeconds <= cap;
    }
}
