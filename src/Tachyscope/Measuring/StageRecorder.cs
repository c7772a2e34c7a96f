using System.Diagnostics;
using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>Keeps count and time of the stages of one batch. One batch at a time, and one flow of control in it.</summary>
internal static class StageRecorder
{
    private const int MostStages = 64;
    private const int Deepest = 32;
    private const string Between = " › ";
    private static readonly double NanosecondsPerTick = 1e9 / Stopwatch.Frequency;

    private static readonly string[] s_names = new string[MostStages];
    private static readonly int[] s_parents = new int[MostStages];
    private static readonly long[] s_counts = new long[MostStages];
    private static readonly long[] s_ticks = new long[MostStages];

    // Which stage was opened after which, the last time; the place beyond the last is that of the batch's beginning.
    private static readonly int[] s_following = new int[MostStages + 1];
    private static readonly int[] s_open = new int[Deepest];
    private static readonly long[] s_starts = new long[Deepest];
    private static int s_stages;
    private static int s_depth;
    private static int s_last;

    /// <summary>Whether stages are looked at.</summary>
    public static bool IsOn { get; private set; }

    /// <summary>Times any stage was entered.</summary>
    public static long Marks { get; private set; }

    /// <summary>The first thing that was wrong with how stages were opened and closed; null when nothing was.</summary>
    public static string? Mistake { get; private set; }

    /// <summary>Looks at stages from now on.</summary>
    public static void Begin()
    {
        (s_stages, s_depth, Marks, Mistake) = (0, 0, 0, null);
        Array.Clear(s_counts);
        Array.Clear(s_ticks);
        Array.Fill(s_following, -1);
        s_last = MostStages;
        IsOn = true;
    }

    /// <summary>Looks away again and tells what was seen.</summary>
    public static IReadOnlyList<StageTime> End()
    {
        IsOn = false;
        if (s_depth > 0)
        {
            Mistake ??= $"left the stage \"{s_names[s_open[s_depth - 1]]}\" open; close it, best by: using (Stage.Open(\"…\")) {{ … }}";
        }

        return [.. Enumerable.Range(0, s_stages).Select(stage => new StageTime
        {
            Stage = FullName(stage),
            Count = s_counts[stage],
            CountInside = Inside(stage),
            ElapsedNanoseconds = (long)(s_ticks[stage] * NanosecondsPerTick),
        })];
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static int Open(string name)
    {
        if (s_depth >= Deepest || s_stages >= MostStages)
        {
            Mistake ??= $"opened more than {Deepest} stages inside each other or more than {MostStages} in all; mark fewer";
            return 0;
        }

        var stage = Find(name, s_depth == 0 ? -1 : s_open[s_depth - 1]);
        s_counts[stage]++;
        Marks++;
        s_open[s_depth] = stage;
        s_starts[s_depth++] = Stopwatch.GetTimestamp();
        return s_depth;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Close(int ticket)
    {
        var end = Stopwatch.GetTimestamp();
        if (!IsOn || ticket != s_depth)
        {
            Mistake ??= IsOn ? "closed a stage that was not the last one opened; close stages in reverse order, best by: using" : null;
            return;
        }

        s_depth--;
        s_ticks[s_open[s_depth]] += end - s_starts[s_depth];
    }

    /// <summary>What marks cost: calls many of them around nothing.</summary>
    public static StageCost Calibrate()
    {
        const int Marks = 20_000;
        var unread = Fastest(Marks) / Marks;
        var (inside, whole) = (double.PositiveInfinity, double.PositiveInfinity);
        for (var attempt = 0; attempt < 5; attempt++)
        {
            Begin();
            var elapsed = Elapsed(Marks);
            inside = Math.Min(inside, End()[0].ElapsedNanoseconds / (double)Marks);
            whole = Math.Min(whole, elapsed / Marks);
        }

        return new StageCost { InsideNanoseconds = inside, OutsideNanoseconds = Math.Max(0, whole - inside), UnreadNanoseconds = unread };
    }

    private static double Fastest(int marks)
    {
        var fastest = double.PositiveInfinity;
        for (var attempt = 0; attempt < 5; attempt++)
        {
            fastest = Math.Min(fastest, Elapsed(marks));
        }

        return fastest;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static double Elapsed(int marks)
    {
        var start = Stopwatch.GetTimestamp();
        for (var mark = 0; mark < marks; mark++)
        {
            using (Stage.Open("nothing"))
            {
            }
        }

        return (Stopwatch.GetTimestamp() - start) * NanosecondsPerTick;
    }

    // What a mark costs must not depend on how many there are, nor on how deep they lie: batches repeat their order.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static int Find(string name, int parent)
    {
        var expected = s_following[s_last];
        if (expected < 0 || s_parents[expected] != parent || !ReferenceEquals(s_names[expected], name))
        {
            expected = Searched(name, parent);
            s_following[s_last] = expected;
        }

        s_last = expected;
        return expected;
    }

    private static int Searched(string name, int parent)
    {
        for (var stage = 0; stage < s_stages; stage++)
        {
            if (s_parents[stage] == parent && (ReferenceEquals(s_names[stage], name) || s_names[stage] == name))
            {
                return stage;
            }
        }

        s_names[s_stages] = name;
        s_parents[s_stages] = parent;
        return s_stages++;
    }

    // Times that the stages inside it were entered, at any depth.
    private static long Inside(int stage)
        => Enumerable.Range(0, s_stages).Where(inner => s_parents[inner] == stage).Sum(inner => s_counts[inner] + Inside(inner));

    private static string FullName(int stage)
        => s_parents[stage] < 0 ? s_names[stage] : $"{FullName(s_parents[stage])}{Between}{s_names[stage]}";
}
