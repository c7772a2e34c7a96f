using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What is wrong with one cell, by its own figures.</summary>
internal static class CellCaveats
{
    private const double FloorShareOfTime = 0.1;
    private const double LeastReadsAndWrites = 0.5;
    private const double ClockShare = 0.01;

    public static IEnumerable<Caveat> Find(CaveatGround ground, InputFindings input, CellFindings cell)
    {
        var subject = Subject(cell, input);
        var sittings = ground.Findings.Sittings;
        if (!cell.IsResolved)
        {
            yield return new Caveat
            {
                Name = "below-resolution",
                Subject = subject,
                Evidence = Text($"{cell.NanosecondsPerCall.Estimate:0.00} ns is less than this loop can tell from nothing; it may have been optimised away"),
                WayOut = cell.OverlappedNanosecondsPerCall is { } overlapped
                    ? Text($"its calls side by side take {overlapped.Estimate:0.00} ns each; let the result depend on the input, or do more work per call")
                    : "read calls side by side with --overlapped; let the result depend on the input, or do more work per call",
            };
        }

        if (cell.Signals.IsCompiling)
        {
            yield return new Caveat
            {
                Name = "compiles-itself",
                Subject = subject,
                Evidence = Text($"methods were compiled in {(double)cell.Signals.WithCompilation / cell.Signals.Readings:P0} of its readings: it makes code at every call, which is part of its time"),
                WayOut = "make the code once, in prepare, and compare its use",
            };
        }

        if (cell.SettledSittings * 2 < sittings)
        {
            yield return new Caveat
            {
                Name = "not-settled",
                Subject = subject,
                Evidence = Text($"still changing when its readings began in {sittings - cell.SettledSittings} of {sittings} sittings"),
                WayOut = "look for state that grows from call to call",
            };
        }

        if (cell.IsResolved && cell.Loop.FloorNanoseconds() > FloorShareOfTime * cell.NanosecondsPerCall.Estimate)
        {
            yield return new Caveat
            {
                Name = "near-floor",
                Subject = subject,
                Evidence = Text($"the loop ({cell.Loop.InWords()}) may leave up to {cell.Loop.FloorNanoseconds():0.##} ns in so short a time"),
                WayOut = cell.Variant.Loop.Path == CallPath.Delegate
                    ? "pass a static method or a lambda, which can be called directly"
                    : "compare its variants with each other, which are measured alike, or do more work per call",
            };
        }

        if (cell.Collections?.HeldShare < 1)
        {
            yield return new Caveat
            {
                Name = "collector-came-in",
                Subject = subject,
                Evidence = Text($"the collector could be kept out of {cell.Collections.HeldShare:P0} of its readings only: a reading allocates more than its budget"),
                WayOut = "measure it with collections inside",
            };
        }

        if (cell.Loop.Path != CallPath.Awaited && cell.Signals.IsMostlyWaiting)
        {
            yield return new Caveat
            {
                Name = "sleeps",
                Subject = subject,
                Evidence = Text($"it spends {1 - (cell.Signals.ProcessorNanosecondsPerCall / cell.Signals.ElapsedNanosecondsPerCall):P0} of its time off the processor, asleep or waiting for something"),
                WayOut = "time what is computed apart from what is waited for; or let it return a task, which is awaited",
            };
        }

        if (cell.ReadsAndWritesPerCall >= LeastReadsAndWrites)
        {
            yield return new Caveat
            {
                Name = "reads-or-writes",
                Subject = subject,
                Evidence = Text($"it asks the system to read or write {cell.ReadsAndWritesPerCall:0.#} times a call: it prints, or uses files"),
                WayOut = "take that out of the operation, unless it is what you want to time",
            };
        }

        if (ground.Run.Environment.ClockStepNanoseconds > ClockShare * ReadingNanoseconds(cell))
        {
            yield return new Caveat
            {
                Name = "clock-coarse",
                Subject = subject,
                Evidence = Text($"the clock moves in steps of {ground.Run.Environment.ClockStepNanoseconds:0} ns, and one reading takes {ReadingNanoseconds(cell):0} ns"),
                WayOut = "do more work per call, or run on a system with a finer clock",
            };
        }
    }

    private static double ReadingNanoseconds(CellFindings cell)
        => cell.Signals.Readings == 0 ? double.NaN : cell.Signals.ElapsedNanosecondsPerCall * cell.Signals.Calls / cell.Signals.Readings;
}
