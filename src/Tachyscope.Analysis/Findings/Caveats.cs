using System.Globalization;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Finds the reasons to distrust a study's figures: docs/caveats.md.</summary>
internal static class Caveats
{
    private const int SittingsForInterval = 5;
    private const double InterruptedShare = 0.3;
    private const double CompiledShare = 0.1;
    private const double DriftShare = 0.1;
    private const double FloorShareOfTime = 0.1;

    public static IEnumerable<Caveat> Of(Run run, StudyRecord record, IReadOnlyList<InputFindings> inputs, IReadOnlyList<SittingFigures> sittings, double marginShare)
        => OfProcess(run.Environment)
            .Concat(OfSittings(run, sittings))
            .Concat(inputs.SelectMany(OfBaseline))
            .Concat(OfTwins(inputs, marginShare))
            .Concat(inputs.SelectMany(input => input.Cells.SelectMany(cell => OfCell(input, cell, record.Sittings.Count))));

    private static IEnumerable<Caveat> OfProcess(WorkerEnvironment environment)
    {
        if (!environment.IsOptimized)
        {
            yield return new Caveat
            {
                Name = "unoptimised-build",
                Evidence = $"{string.Join(", ", environment.UnoptimizedAssemblies)} was compiled without optimisation",
                WayOut = "build with -c Release",
            };
        }

        if (environment.IsDebuggerAttached)
        {
            yield return new Caveat { Name = "debugger-attached", Evidence = "a debugger watched the worker", WayOut = "run without it" };
        }
    }

    private static IEnumerable<Caveat> OfSittings(Run run, IReadOnlyList<SittingFigures> sittings)
    {
        if (run.State == RunState.Interrupted)
        {
            yield return new Caveat { Name = "cut-short", Evidence = "the run was interrupted", WayOut = "let it run to its end" };
        }

        if (sittings.Count is > 0 and < SittingsForInterval)
        {
            yield return new Caveat
            {
                Name = "few-sittings",
                Evidence = Text($"{sittings.Count} sitting{(sittings.Count == 1 ? "" : "s")}, and an interval needs {SittingsForInterval} to be tight"),
                WayOut = "allow more time with --within",
            };
        }

        var beats = sittings.Select(sitting => sitting.MedianBeat).Where(double.IsFinite).ToList();
        if (beats.Count > 1 && beats.Max() / beats.Min() - 1 > DriftShare)
        {
            yield return new Caveat
            {
                Name = "speed-changed",
                Evidence = Text($"the machine's speed differed by {beats.Max() / beats.Min() - 1:P0} between sittings"),
                WayOut = "contrasts are paired and hold; quote no absolute time from this run, or repeat it on a quieter machine",
            };
        }

        // An operation that waits leaves the processor of its own accord.
        var signals = SignalCount.Sum(sittings.SelectMany(sitting => sitting.Signals).Where(count => !count.IsMostlyWaiting));
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
        var others = SignalCount.Sum(sittings.SelectMany(sitting => sitting.Signals).Where(count => !count.IsCompiling));
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

    private static IEnumerable<Caveat> OfBaseline(InputFindings input)
    {
        if (input.Cells.Any(cell => cell.Variant is { IsBaseline: true } and not { Part: VariantPart.Prepare } && cell.Failure is not null))
        {
            yield return new Caveat
            {
                Name = "no-baseline",
                Subject = input.Input.Label,
                Evidence = "the baseline has no figures here, so nothing can be compared with it",
                WayOut = "mend the baseline or make another variant the baseline",
            };
        }
    }

    private static IEnumerable<Caveat> OfTwins(IReadOnlyList<InputFindings> inputs, double marginShare)
    {
        var coarse = inputs.Where(input => input.FloorShare > marginShare && double.IsFinite(input.FloorShare)).ToList();
        if (coarse.Count > 0)
        {
            yield return new Caveat
            {
                Name = "coarse",
                Subject = string.Join("; ", coarse.Select(input => input.Input.Label)),
                Evidence = Text($"two copies of the baseline may differ by up to {coarse.Max(input => input.FloorShare):P1}, more than the margin of {marginShare:P1}"),
                WayOut = "allow more time with --within; where it stays, memory layout decides and no time will help",
            };
        }
    }

    private static IEnumerable<Caveat> OfCell(InputFindings input, CellFindings cell, int sittings)
    {
        if (cell.Failure is not null || sittings == 0)
        {
            yield break;
        }

        var subject = $"{cell.Variant.Name}, {input.Input.Label}";
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
    }

    private static string Text(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);
}
