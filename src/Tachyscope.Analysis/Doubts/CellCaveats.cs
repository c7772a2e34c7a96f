using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What is wrong with one cell, by its own figures.</summary>
internal static class CellCaveats
{
    private const double ResidueShareOfTime = 0.1;
    private const double LeastReadsAndWrites = 0.5;
    private const double ClockShare = 0.01;
    private const double LeastByCalls = 0.05;

    // More off the processor than the metronome, which never sleeps and is kept from it as others are.
    private const double SleepsMoreThanMetronome = 0.3;

    // How far ahead of an answer it waits for a processor can be: some hundreds of instructions.
    private const double MostNanosecondsAhead = 1_000;

    public static IReadOnlyList<Func<CellGround, Caveat?>> All { get; } =
    [
        BelowResidue, CompilesItself, NotSettled, NearResidue, GuessedAhead, OtherThreads, CollectorCameIn, CallsDecide, CoreShared,
        Sleeps, ReadsOrWrites, ClockCoarse,
    ];

    private static Caveat? BelowResidue(CellGround ground) => ground.Cell.NanosecondsPerCall.IsMeasured ? null : new Caveat
    {
        Name = "below-residue",
        Subject = ground.Subject,
        Evidence = Text($"{ground.Cell.NanosecondsPerCall.Estimate:0.00} ns is less than this loop can tell from nothing; it may have ",
            $"been optimised away"),
        WayOut = ground.Cell.OverlappedNanosecondsPerCall is { } overlapped
            ? Text($"its calls side by side take {overlapped.Estimate:0.00} ns each; let the result depend on the input, or do more ",
                $"work per call")
            : "read calls side by side with --overlapped; let the result depend on the input, or do more work per call",
    };

    private static Caveat? CompilesItself(CellGround ground) => ground.Cell.Signals is not { IsCompiling: true } signals ? null : new Caveat
    {
        Name = "compiles-itself",
        Subject = ground.Subject,
        Evidence = Text($"methods were compiled in {(double)signals.WithCompilation / signals.Readings:P0} of its readings: it makes ",
            $"code at every call, which is part of its time"),
        WayOut = "make the code once, in prepare, and compare its use",
    };

    private static Caveat? NotSettled(CellGround ground)
        => ground.Study.Findings.Sittings is var sittings && ground.Cell.SettledSittings * 2 >= sittings ? null : new Caveat
        {
            Name = "not-settled",
            Subject = ground.Subject,
            Evidence = Text($"still changing when its readings began in {sittings - ground.Cell.SettledSittings} of {sittings} sittings"),
            WayOut = "look for state that grows from call to call",
        };

    private static Caveat? NearResidue(CellGround ground)
        => ground.Cell.Loop.ResidueNanoseconds() is var residue
            && (!ground.Cell.NanosecondsPerCall.IsMeasured
                || !(residue > ResidueShareOfTime * ground.Cell.NanosecondsPerCall.Estimate)) ? null : new Caveat
        {
            Name = "near-residue",
            Subject = ground.Subject,
            Evidence = Text($"the loop ({ground.Cell.Loop.InWords()}) may leave up to {residue:0.##} ns in so short a time"),
            WayOut = ground.Cell.Variant.Loop.Path == CallPath.Delegate
                ? "pass a static method or a lambda, which can be called directly"
                : "compare its variants with each other, which are measured alike, or do more work per call",
        };

    private static Caveat? GuessedAhead(CellGround ground)
        => ground.Cell.Loop is not { Result: ResultKind.YesOrNo, Path: not CallPath.Awaited }
            || !(ground.Cell.NanosecondsPerCall.Estimate < MostNanosecondsAhead) ? null : new Caveat
        {
            Name = "guessed-ahead",
            Subject = ground.Subject,
            IsNote = true,
            Evidence = "it answers yes or no; where a branch decides, the processor guesses and begins the next call, "
                + "so that the time is of calls side by side rather than of one that was waited for",
            WayOut = "answer with what the decision is made of, such as the number compared, to see how long that takes",
        };

    private static Caveat? OtherThreads(CellGround ground)
        => ground.Cell.OtherThreadsShare is not { } share ? null : new Caveat
        {
            Name = "other-threads",
            Subject = ground.Subject,
            IsNote = true,
            Evidence = Text(
                $"other threads work for its calls, up to {share:P0} of what they take: bytes and processor time are the whole process's"),
            WayOut = "nothing is wrong; quote its processor time beside its time, and measure it with the threads it will have",
        };

    private static Caveat? CollectorCameIn(CellGround ground)
        => ground.Cell.Collections?.HeldShare is not (< 1 and var held) ? null : new Caveat
    {
        Name = "collector-came-in",
        Subject = ground.Subject,
        Evidence = Text($"the collector could be kept out of {held:P0} of its readings only: a reading allocates more than its budget"),
        WayOut = "measure it with collections inside",
    };

    // The order that calls are foreseen in may be another: told where one of the two takes less for sharing its core, as only calls do.
    private static Caveat? CallsDecide(CellGround ground)
    {
        if (!ground.Study.Findings.Core.Calls.AreUnforeseenWhenQuiet
            || ground.Study.Record.Study.Reference(ground.Row) is not { } reference
            || ground.Cell.Contrast is not { TimeRatio: { IsBounded: true } quiet }
            || !ground.InputFindings.Cells.Any(cell
                => (cell.Row == ground.Row || cell.Row == reference) && cell.SharedTimeRatio is { Upper: < 1 }))
        {
            return null;
        }

        var shared = SampleStatistics.MeanInterval(
            ground.View.PerSitting(CellKind.Variant, ground.Row, reference, ground.Input, static (sitting, cell, other)
                => SittingFigures.Of(sitting.Record, CoreState.Shared) is var own && own.HasEnough(cell) && own.HasEnough(other)
                    ? own.MiddleLogRatio(cell, other) : double.NaN), ground.View.Level).Through(Math.Exp);
        return !shared.IsBounded || (shared.Lower <= quiet.Upper && quiet.Lower <= shared.Upper)
            || Math.Abs(Math.Log(shared.Estimate / quiet.Estimate)) <= LeastByCalls ? null : new Caveat
        {
            Name = "calls-unforeseen",
            Subject = ground.Subject,
            Evidence = Text($"beside a shared core, where more calls are foreseen, it took {shared.Estimate:0.00} times the baseline's ",
                $"time ({shared.Lower:0.00} to {shared.Upper:0.00}), and {quiet.Estimate:0.00} times beside one of its own"),
            WayOut = "one of the two makes more calls than the other: take its place for that on such machines, and measure on one that "
                + "foresees calls besides",
        };
    }

    private static Caveat? CoreShared(CellGround ground)
        => !ground.Cell.IsOfSharedCore ? null : new Caveat
        {
            Name = "core-shared",
            Subject = ground.Subject,
            Evidence = "somebody else used the same core most of the time, and hardly ever less than else, so that nothing tells what it "
                + "takes without",
            WayOut = "its times are those of a shared core; run again later, or elsewhere",
        };

    private static Caveat? Sleeps(CellGround ground)
        => ground.Cell.Loop.Path == CallPath.Awaited || ground.Cell.Signals is not { IsMostlyWaiting: true } signals
            || signals.OffProcessorShare - MetronomeOffProcessorShare(ground) < SleepsMoreThanMetronome ? null : new Caveat
        {
            Name = "sleeps",
            Subject = ground.Subject,
            Evidence = Text($"it spends {1 - (signals.ProcessorNanosecondsPerCall / signals.ElapsedNanosecondsPerCall):P0} of its ",
                $"time off the processor, asleep or waiting for something"),
            WayOut = "time what is computed apart from what is waited for; or let it return a task, which is awaited",
        };

    private static double MetronomeOffProcessorShare(CellGround ground)
    {
        var count = new SignalCount();
        foreach (var sitting in ground.Study.Sittings)
        {
            foreach (var reading in sitting.Record.Readings.Where(reading => sitting.Record.Cells[reading.Cell].Kind == CellKind.Metronome))
            {
                count.Add(reading);
            }
        }

        return count.OffProcessorShare;
    }

    private static Caveat? ReadsOrWrites(CellGround ground)
        => ground.Cell.ReadsAndWritesPerCall is not (>= LeastReadsAndWrites and var count) ? null : new Caveat
        {
            Name = "reads-or-writes",
            Subject = ground.Subject,
            Evidence = Text($"it asks the system to read or write {count:0.#} times a call: it prints, or uses files"),
            WayOut = "take that out of the operation, unless it is what you want to time",
        };

    private static Caveat? ClockCoarse(CellGround ground)
    {
        var signals = ground.Cell.Signals;
        var reading = signals.Readings == 0 ? double.NaN : signals.ElapsedNanosecondsPerCall * signals.Calls / signals.Readings;
        var step = ground.Study.Run.Environment.ClockStepNanoseconds;
        return !(step > ClockShare * reading) ? null : new Caveat
        {
            Name = "clock-coarse",
            Subject = ground.Subject,
            Evidence = Text($"the clock moves in steps of {step:0} ns, and one reading takes {reading:0} ns"),
            WayOut = "do more work per call, or run on a system with a finer clock",
        };
    }
}
