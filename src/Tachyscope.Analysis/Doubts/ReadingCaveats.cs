using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What is wrong with the sittings and their readings as a whole.</summary>
internal static class ReadingCaveats
{
    private const int SittingsForInterval = 5;
    private const double InterruptedShare = 0.3;
    private const double CompiledShare = 0.1;

    public static IReadOnlyList<Func<CaveatGround, Caveat?>> All { get; } =
    [
        CutShort, ImpossibleReadings, ReadingsMissing, FewSittings, NotPinned, NoProcessorTime, Interrupted, CompiledWhileRead,
        OptimisedLate, CopiesDiffer,
    ];

    private static Caveat? CutShort(CaveatGround ground) => ground.Run.State != RunState.Interrupted ? null : new Caveat
    {
        Name = "cut-short",
        Evidence = "the run was interrupted",
        WayOut = "let it run to its end",
    };

    private static Caveat? ImpossibleReadings(CaveatGround ground)
        => ground.Sound is not { FirstFault: { } first } sound ? null : new Caveat
    {
        Name = "impossible-readings",
        Evidence = Text($"{sound.LeftOut:N0} of {sound.LeftOut + ground.Record.Sittings.Sum(sitting => sitting.Readings.Count):N0} ",
            $"readings cannot be true and were left out; the first: {first}"),
        WayOut = "the file was altered or damaged: take it from where it was saved, or measure again",
    };

    private static Caveat? CopiesDiffer(CaveatGround ground) => ground.Copies.Differing is not { Count: > 0 } differing ? null : new Caveat
    {
        Name = "copies-differ",
        Subject = string.Join("; ", differing.Select(cell => ground.Subject(cell.Variant, cell.Input))),
        Evidence = Text($"in further copies of its code it takes {differing[0].TimeRatio:0.00} times as long as in the first: ")
            + "code of the framework that calls back into it was optimised for the first, as in a program that has but one",
        WayOut = "all figures are the first copy's; leave --copies out for this study",
    };

    private static Caveat? ReadingsMissing(CaveatGround ground)
    {
        var failed = ground.Record.Failures.Select(failure => (failure.Variant, failure.Input)).ToHashSet();
        var silent = ground.Sittings.Where(sitting => sitting.Record.Rounds > 0)
            .SelectMany(sitting => sitting.Taken.Silent.Where(cell => cell.Target == ground.View.Target)
                .Select(cell => (sitting.Record.Number, Cell: cell)))
            .Where(cell => !failed.Contains((cell.Cell.Variant, cell.Cell.Input)))
            .ToList();
        return silent.Count == 0 ? null : new Caveat
        {
            Name = "readings-missing",
            Subject = string.Join("; ", silent.Where(cell => cell.Cell.Kind == CellKind.Variant)
                .Select(cell => ground.Subject(cell.Cell.Variant, cell.Cell.Input)).Distinct()) is { Length: > 0 } named ? named : null,
            Evidence = Text($"{silent.Count} cells have no readings in sitting ",
                $"{string.Join(", ", silent.Select(cell => cell.Number).Distinct())}, and what follows from them rests on the other ",
                $"sittings"),
            WayOut = "take the file from where it was saved, or measure again",
        };
    }

    private static Caveat? FewSittings(CaveatGround ground)
        => ground.Findings.Sittings is not (> 0 and < SittingsForInterval and var sittings) ? null : new Caveat
        {
            Name = "few-sittings",
            Evidence = Text($"{sittings} sitting{(sittings == 1 ? "" : "s")}, and an interval needs {SittingsForInterval} to be tight"),
            WayOut = "allow more time with --within",
        };

    private static Caveat? NotPinned(CaveatGround ground)
        => ground.Run.Environment.Processors.Count <= 1 || ground.Record.Sittings.All(sitting => sitting.IsPinned || sitting.Rounds == 0)
            ? null
            : new Caveat
        {
            Name = "not-pinned",
            Evidence = "the system did not hold the worker to one processor a round, so it may have moved in the middle of a reading",
            WayOut = "run where a process may choose its processor; contrasts are paired and hold",
        };

    private static Caveat? NoProcessorTime(CaveatGround ground)
        => ground.Findings.Signals is var all && (all.Readings == 0 || !double.IsNaN(all.ProcessorNanosecondsPerCall)) ? null : new Caveat
        {
            Name = "no-processor-time",
            Evidence = "the system does not tell the processor time of a thread, so interruptions were not seen",
            WayOut = "rely on the metronome and on the width of the intervals",
        };

    // An operation that waits leaves the processor of its own accord.
    private static Caveat? Interrupted(CaveatGround ground)
        => Sum(ground, count => !count.IsMostlyWaiting) is var signals && signals.Interrupted <= InterruptedShare * signals.Readings
            ? null
            : new Caveat
        {
            Name = "interrupted",
            Evidence = Text($"other work took the processor during {(double)signals.Interrupted / signals.Readings:P0} of the readings"),
            WayOut = "close what else runs on this machine",
        };

    // What compiles at every call has a caveat of its own.
    private static Caveat? CompiledWhileRead(CaveatGround ground)
        => Sum(ground, count => !count.IsCompiling) is var signals
            && (signals.Readings < SignalCount.EnoughReadings || signals.WithCompilation <= CompiledShare * signals.Readings)
                ? null
                : new Caveat
        {
            Name = "compiled-while-read",
            Evidence = Text($"methods were compiled during {(double)signals.WithCompilation / signals.Readings:P0} of the readings"),
            WayOut = "allow more time with --within",
        };

    private static Caveat? OptimisedLate(CaveatGround ground)
    {
        if (ground.Warm.Early.MaxBy(sitting => sitting.TimeRatio) is not { Cell: { } cell } most)
        {
            return null;
        }

        var rounds = ground.Warm.Early.Sum(sitting => sitting.Count);
        return new Caveat
        {
            Name = "optimised-late",
            Evidence = Text($"in {ground.Warm.Early.Count} of {ground.Record.Sittings.Count} sittings code was optimised after reading ",
                $"had begun: {ground.Subject(cell.Variant, cell.Input)} took {most.TimeRatio:0.0} times as long or more before; ",
                $"{rounds} round{(rounds == 1 ? "" : "s")} of {ground.Record.Sittings.Sum(sitting => sitting.Rounds)} ",
                $"{(rounds == 1 ? "was" : "were")} left out"),
            WayOut = "close what else runs: it kept the runtime from optimising in time; figures are those of the code as it was made last",
        };
    }

    private static SignalCount Sum(CaveatGround ground, Func<SignalCount, bool> isMeant)
        => SignalCount.Sum(ground.Sittings.SelectMany(sitting => sitting.Signals).Where(isMeant));
}
