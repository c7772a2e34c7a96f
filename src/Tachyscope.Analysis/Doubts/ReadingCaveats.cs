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

    public static IEnumerable<Caveat> Find(CaveatGround ground)
    {
        if (ground.Run.State == RunState.Interrupted)
        {
            yield return new Caveat { Name = "cut-short", Evidence = "the run was interrupted", WayOut = "let it run to its end" };
        }

        var sittings = ground.Findings.Sittings;
        if (sittings is > 0 and < SittingsForInterval)
        {
            yield return new Caveat
            {
                Name = "few-sittings",
                Evidence = Text($"{sittings} sitting{(sittings == 1 ? "" : "s")}, and an interval needs {SittingsForInterval} to be tight"),
                WayOut = "allow more time with --within",
            };
        }

        if (ground.Record.Sittings.Any(sitting => !sitting.IsPinned && sitting.Rounds > 0) && ground.Run.Environment.Processors.Count > 1)
        {
            yield return new Caveat
            {
                Name = "not-pinned",
                Evidence = "the system did not hold the worker to one processor a round, so it may have moved in the middle of a reading",
                WayOut = "run where a process may choose its processor; contrasts are paired and hold",
            };
        }

        var all = ground.Findings.Signals;
        if (all.Readings > 0 && double.IsNaN(all.ProcessorNanosecondsPerCall))
        {
            yield return new Caveat
            {
                Name = "no-processor-time",
                Evidence = "the system does not tell the processor time of a thread, so interruptions were not seen",
                WayOut = "rely on the metronome and on the width of the intervals",
            };
        }

        // An operation that waits leaves the processor of its own accord.
        var signals = SignalCount.Sum(ground.Sittings.SelectMany(sitting => sitting.Signals).Where(count => !count.IsMostlyWaiting));
        if (signals.Interrupted > InterruptedShare * signals.Readings)
        {
            yield return new Caveat
            {
                Name = "interrupted",
                Evidence = Text($"other work took the processor during {(double)signals.Interrupted / signals.Readings:P0} of the readings"),
                WayOut = "close what else runs on this machine",
            };
        }

        // What compiles at every call has a caveat of its own.
        var others = SignalCount.Sum(ground.Sittings.SelectMany(sitting => sitting.Signals).Where(count => !count.IsCompiling));
        if (others.Readings >= SignalCount.EnoughReadings && others.WithCompilation > CompiledShare * others.Readings)
        {
            yield return new Caveat
            {
                Name = "compiled-while-read",
                Evidence = Text($"methods were compiled during {(double)others.WithCompilation / others.Readings:P0} of the readings"),
                WayOut = "allow more time with --within",
            };
        }
    }
}
