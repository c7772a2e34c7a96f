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

    public static IReadOnlyList<Func<CaveatGround, Caveat?>> All { get; } = [CutShort, FewSittings, NotPinned, NoProcessorTime, Interrupted, CompiledWhileRead];

    private static Caveat? CutShort(CaveatGround ground) => ground.Run.State != RunState.Interrupted ? null : new Caveat
    {
        Name = "cut-short",
        Evidence = "the run was interrupted",
        WayOut = "let it run to its end",
    };

    private static Caveat? FewSittings(CaveatGround ground)
        => ground.Findings.Sittings is not (> 0 and < SittingsForInterval and var sittings) ? null : new Caveat
        {
            Name = "few-sittings",
            Evidence = Text($"{sittings} sitting{(sittings == 1 ? "" : "s")}, and an interval needs {SittingsForInterval} to be tight"),
            WayOut = "allow more time with --within",
        };

    private static Caveat? NotPinned(CaveatGround ground)
        => ground.Run.Environment.Processors.Count <= 1 || ground.Record.Sittings.All(sitting => sitting.IsPinned || sitting.Rounds == 0) ? null : new Caveat
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
        => Sum(ground, count => !count.IsMostlyWaiting) is var signals && signals.Interrupted <= InterruptedShare * signals.Readings ? null : new Caveat
        {
            Name = "interrupted",
            Evidence = Text($"other work took the processor during {(double)signals.Interrupted / signals.Readings:P0} of the readings"),
            WayOut = "close what else runs on this machine",
        };

    // What compiles at every call has a caveat of its own.
    private static Caveat? CompiledWhileRead(CaveatGround ground)
        => Sum(ground, count => !count.IsCompiling) is var signals && (signals.Readings < SignalCount.EnoughReadings || signals.WithCompilation <= CompiledShare * signals.Readings) ? null : new Caveat
        {
            Name = "compiled-while-read",
            Evidence = Text($"methods were compiled during {(double)signals.WithCompilation / signals.Readings:P0} of the readings"),
            WayOut = "allow more time with --within",
        };

    private static SignalCount Sum(CaveatGround ground, Func<SignalCount, bool> isMeant)
        => SignalCount.Sum(ground.Sittings.SelectMany(sitting => sitting.Signals).Where(isMeant));
}
