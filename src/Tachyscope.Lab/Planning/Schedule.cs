using Tachyscope.Runs;

namespace Tachyscope.Lab.Planning;

/// <summary>Decides how many sittings a comparison gets and how many rounds each holds. Pure arithmetic on times.</summary>
/// <remarks>
/// Sittings are held in sets: those of a set are warmed at once, each on a processor of its own, and read one after the other.
/// </remarks>
public sealed class Schedule
{
    /// <summary>Sittings when no time is given: docs/method.md, "The experiment".</summary>
    public const int DefaultSittings = 6;

    /// <summary>The most there are where that many leave contrasts wide.</summary>
    public const int MostWhereWide = 2 * DefaultSittings;

    /// <summary>The same where speeds of one code are to be told apart: a heap of a third of them is found nearly always.</summary>
    public const int SittingsForSpeeds = 14;

    private const int FewestSittings = 2;
    private const int FewestRounds = 10;
    private const int FewestRoundsInTime = 3;
    private const int MostDefaultRounds = 40;
    private const int MostRoundsInTime = 500;
    private const double DefaultReadingSeconds = 0.25;
    private const double LongestDefaultReadingSeconds = 2;
    private const double PrecisionCapSeconds = 60;
    private const double LeastDefaultCapSeconds = 15;

    // More sittings are for studies that take a few seconds: a run of many large ones must not take twice as long unasked.
    private const double CapSecondsWhereWide = 8;
    private const double DefaultCapSecondsPerCell = 2;
    private const double CapSecondsPerOtherTarget = 4;
    private const double ReadingOverrun = 1.3;

    // Some sets take longer than others until they are warm.
    private const double SetReserve = 1.1;

    private readonly double? _withinSeconds;
    private readonly bool _seeksPrecision;
    private readonly double _defaultCapSeconds;
    private readonly int _targets;
    private readonly int _usualSittings;

    /// <summary>A schedule for one comparison.</summary>
    /// <param name="withinSeconds">Time it may take, in seconds; null for the default.</param>
    /// <param name="seeksPrecision">Whether sittings go on until the contrasts are tight enough.</param>
    /// <param name="cells">Cells of a sitting on one target.</param>
    /// <param name="targets">Targets that rounds go through; each gets the time that one alone would.</param>
    /// <param name="seeksSpeeds">Whether speeds of one code are to be told apart.</param>
    public Schedule(double? withinSeconds, bool seeksPrecision, int cells = 1, int targets = 1, bool seeksSpeeds = false)
    {
        _targets = targets;
        _usualSittings = UsualSittings(seeksSpeeds);
        var usual = Math.Max(
            LeastDefaultCapSeconds + (CapSecondsPerOtherTarget * (targets - 1)), DefaultCapSecondsPerCell * cells * targets);
        _defaultCapSeconds = usual * _usualSittings / DefaultSittings;
        _withinSeconds = withinSeconds;
        _seeksPrecision = seeksPrecision;
    }

    /// <summary>Sittings planned; the most there can be when time or a precision decides.</summary>
    public int Sittings => _withinSeconds is not null || _seeksPrecision ? RunPlan.MostSittings : SittingsWithoutLimit;

    /// <summary>Sittings where neither time nor a precision decides.</summary>
    public int SittingsWithoutLimit => _usualSittings + SittingsMore;

    /// <summary>Those of them beyond the usual number, since that left contrasts wide.</summary>
    public int SittingsMore { get; private set; }

    /// <summary>
    /// Plans more sittings than usual, up to twice as many, once the usual number was held and left contrasts wide; as many as will be over
    /// within a few seconds, by what sets took so far.
    /// </summary>
    /// <remarks>
    /// Nothing changes where a time, a precision or the search for speeds decides. Looking once, after a number that is fixed, costs an
    /// interval little of its level (Stein, "A two-sample test for a linear hypothesis whose power is independent of the variance", 1945):
    /// docs/method.md, "The experiment".
    /// </remarks>
    /// <param name="held">Sittings held so far.</param>
    /// <param name="worth">Sittings worth their time by what was found so far; null for the usual number.</param>
    /// <param name="atOnce">Sittings that are held in a set, none of which is left half empty.</param>
    /// <param name="elapsedSeconds">Time the comparison has taken so far.</param>
    public void Reconsider(int held, int? worth, int atOnce, double elapsedSeconds)
    {
        if (held == DefaultSittings && Sittings == DefaultSittings && worth is { } wanted)
        {
            var more = Math.Clamp(wanted, DefaultSittings, MostWhereWide) - DefaultSittings;
            var fitting = (CapSecondsWhereWide - elapsedSeconds) * held / (elapsedSeconds * atOnce);
            SittingsMore = atOnce * Math.Min((more + atOnce - 1) / atOnce, (int)Math.Clamp(fitting, 0, MostWhereWide));
        }
    }

    /// <summary>The same before there is a schedule.</summary>
    /// <param name="seeksSpeeds">Whether speeds of one code are to be told apart.</param>
    public static int UsualSittings(bool seeksSpeeds) => seeksSpeeds ? SittingsForSpeeds : DefaultSittings;

    /// <summary>Rounds a sitting holds in any case.</summary>
    /// <param name="roundSeconds">Time one round takes.</param>
    public int LeastRounds(double roundSeconds)
        => Math.Min(_withinSeconds is null ? FewestRounds : FewestRoundsInTime, FewestByDefault(roundSeconds));

    /// <summary>Rounds a sitting holds at most.</summary>
    /// <param name="roundSeconds">Time one round takes.</param>
    public int MostRounds(double roundSeconds)
        => _withinSeconds is null || _seeksPrecision ? ByDefault(roundSeconds) : MostRoundsInTime;

    /// <summary>Time for the readings of the sitting that is about to be read, in seconds.</summary>
    /// <param name="outlook">Where the comparison stands.</param>
    /// <param name="roundSeconds">Time one round takes.</param>
    public double ReadingSeconds(SittingOutlook outlook, double roundSeconds)
    {
        ArgumentNullException.ThrowIfNull(outlook);
        var byDefault = ByDefault(roundSeconds) * roundSeconds;
        if (_withinSeconds is not { } within)
        {
            return ReadingOverrun * byDefault;
        }

        // As many more sets as fit with readings of the usual length; all sittings share what is left once each set was made ready.
        var left = within - outlook.ElapsedSeconds - outlook.AheadSeconds;
        var set = SetReserve * (outlook.SetSeconds + (outlook.SetSize * byDefault));
        var possible = (Sittings - outlook.Held - 1 - outlook.Waiting) / outlook.SetSize;
        var sets = Math.Clamp((int)((left - ((1 + outlook.Waiting) * byDefault)) / set), 0, Math.Max(0, possible));
        return (left - (sets * SetReserve * outlook.SetSeconds)) / (1 + outlook.Waiting + (sets * outlook.SetSize));
    }

    /// <summary>Sittings of the set to be held next; 0 when the comparison is done.</summary>
    /// <param name="held">Sittings held so far.</param>
    /// <param name="elapsedSeconds">Time the comparison has taken so far.</param>
    /// <param name="cost">What sets cost so far; null before the first.</param>
    /// <param name="atOnce">Sittings that can be made ready at once.</param>
    /// <param name="isPreciseEnough">Whether the contrasts are tight enough.</param>
    public int NextSet(int held, double elapsedSeconds, SetCost? cost, int atOnce, bool isPreciseEnough)
    {
        var most = Math.Min(atOnce, Sittings - held);
        if (most <= 0 || (_seeksPrecision && isPreciseEnough && held >= DefaultSittings))
        {
            return 0;
        }

        // A machine whose host gives it half the time takes twice as long; it gets fewer sittings, never a long wait.
        var allowed = _withinSeconds ?? (_seeksPrecision ? PrecisionCapSeconds : _defaultCapSeconds);
        if (cost is null || (_withinSeconds is null && held < FewestSittings))
        {
            return most;
        }

        return Math.Clamp((int)((allowed - elapsedSeconds - cost.ReadySeconds) / cost.LeastReadingSeconds), 0, most);
    }

    /// <summary>Whether a sitting that is ready is still to be read.</summary>
    /// <param name="held">Sittings held so far.</param>
    /// <param name="elapsedSeconds">Time the comparison has taken so far.</param>
    /// <param name="leastReadingSeconds">Time its least rounds take.</param>
    public bool HasRoom(int held, double elapsedSeconds, double leastReadingSeconds)
        => held == 0 || _withinSeconds is not { } within || elapsedSeconds + leastReadingSeconds <= within;

    private static int FewestByDefault(double roundSeconds)
        => Math.Clamp((int)(LongestDefaultReadingSeconds / roundSeconds), 1, FewestRounds);

    private int ByDefault(double roundSeconds)
        => Math.Clamp((int)(DefaultReadingSeconds * _targets / roundSeconds), FewestByDefault(roundSeconds), MostDefaultRounds);
}
