using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Machines;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What the machine did while it was measured.</summary>
internal static class MachineCaveats
{
    private const double DriftShare = 0.1;
    private const double UnsteadyShare = 0.05;
    private const double LeastClockStepSeconds = 1;
    private const double AnxiousMemoryShare = 1;
    private const double LeastStandstillNanoseconds = 2e8;
    private const double StandstillReadings = 20;
    private const double LeastQuota = 2;
    private const int MostNamed = 3;

    // Of what a call takes that is not foreseen, where some are: so much less is no noise.
    private const double MostOfUnforeseen = 2 / 3.0;

    private static readonly string[] SavingPolicies = ["powersave", "ondemand", "conservative", "schedutil"];

    public static IReadOnlyList<Func<CaveatGround, Caveat?>> All { get; } =
        [SpeedChanged, CallsUnforeseen, CoreShared, NoisyMachine, FrequencyPolicy, ClockStepped, MemoryShort, StoodStill, ProcessorQuota];

    /// <summary>Whether a difference of times may come of a core that was shared in some sittings and less so in others.</summary>
    /// <param name="ground">The row.</param>
    /// <param name="logRatio">The difference, as the logarithm of a ratio.</param>
    public static bool MayExplain(CellGround ground, double logRatio)
        => (ground.Study.Findings.Core is { IsKnown: true, IsQuiet: false } || ground.View.IsSharedAtTimes(ground.Row, ground.Input))
            && logRatio < Math.Log(CoreCovariate.MostBySharing);

    private static Caveat? SpeedChanged(CaveatGround ground)
        => Spread(ground.Sittings.Select(sitting => sitting.Taken.MedianBeat)) - 1 is not (> DriftShare and var drift) ? null : new Caveat
        {
            Name = "speed-changed",
            Evidence = Text($"the machine's speed differed by {drift:P0} between sittings"),
            WayOut = "contrasts are paired and hold; quote no absolute time from this run, or repeat it on a quieter machine",
        };

    private static Caveat? CallsUnforeseen(CaveatGround ground) => CallsUnforeseenNow(ground) ?? CallsUnforeseenBefore(ground);

    // What is told is of a shared core then, where calls are cheaper than on one of its own.
    private static Caveat? CallsUnforeseenBefore(CaveatGround ground)
        => ground.Findings.Core is not { IsKnown: true, IsQuiet: false, Calls: var calls }
            || ground.Run.QuietCallCycles is not { } before || !CallFindings.IsUnforeseen(before)
            || !(calls.SharedCycles <= MostOfUnforeseen * before) || AreForeseenNow(ground.Run) ? null : new Caveat
        {
            Name = "calls-unforeseen",
            Evidence = Text($"a virtual call took {calls.SharedCycles:0} cycles while the core was shared, and {before:0} in an ",
                $"earlier run on this machine, while it was ours alone: this processor does not foresee where a call leads then"),
            WayOut = "the order of variants is that of a shared core: on one of your own what makes more calls takes so much longer for "
                + "each, and others may be the faster ones; run again when the core is quieter, or on a machine that foresees calls",
        };

    // Another study of the run may have met a quiet core, on a machine that is another than before under the same name.
    private static bool AreForeseenNow(Run run)
        => CallFindings.IsForeseen(run.Studies
            .Select(study => CallFindings.Of(study.Sittings.SelectMany(sitting => new SittingReadings(sitting).CallMoments)).QuietCycles)
            .FirstOrDefault(double.IsFinite, double.NaN));

    private static Caveat? CallsUnforeseenNow(CaveatGround ground)
        => ground.Findings.Core.Calls is not { AreUnforeseenWhenQuiet: true } calls ? null : new Caveat
        {
            Name = "calls-unforeseen",
            Evidence = Text($"a virtual call took {calls.QuietCycles:0} cycles while the core was ours alone")
                + (calls.AreForeseenWhenShared ? Text($", and {calls.SharedCycles:0} while it was shared{Gaining(ground)}") : "")
                + ": this processor does not foresee where a call leads then, as one does whose predictor is guarded against others",
            WayOut = "whatever calls methods that are not put into it pays so much for each: its times are true of such machines, and "
                + "where variants make more calls and fewer, others may have another order; measure on one of these too",
        };

    // What takes less for sharing its core, so much does it call.
    private static string Gaining(CaveatGround ground)
    {
        string[] cells = [.. (from input in ground.Findings.Inputs
                              from cell in input.Cells
                              where cell.SharedTimeRatio is { Upper: < 1 }
                              orderby cell.SharedTimeRatio!.Value.Estimate
                              select Text($"{cell.Variant.Name} on {input.Input.Label} took {cell.SharedTimeRatio!.Value.Estimate:0.00}"))
            .Take(MostNamed)];
        return cells.Length == 0 ? "" : $", when {string.Join(" and ", cells)} times as long";
    }

    private static Caveat? CoreShared(CaveatGround ground)
        => ground.Findings.Core is not { IsOfSharedCore: true } core ? null : new Caveat
        {
            Name = "core-shared",
            Evidence = Text(
                $"somebody else used the same core most of the time: it was ours alone beside {core.QuietShare:P0} of the readings, ")
                + "too few to go by, so that all of them count",
            WayOut = "times are those of a shared core, and contrasts may differ from those of one of your own, in their order too: "
                + "operations differ in how they fill it, and a processor may foresee calls beside others only; run again later, "
                + "or elsewhere",
        };

    private static Caveat? NoisyMachine(CaveatGround ground)
        => ground.Findings.Metronome is not { Readings: > 0, Steadiness: Steadiness.Noisy } metronome ? null : new Caveat
        {
            Name = "noisy-machine",
            Evidence = Text($"{metronome.SlowShare:P0} of the metronome's readings were more than 5 % slower than its median"),
            WayOut = "close what else runs on this machine; contrasts are paired and hold, their intervals are wider than they need be",
        };

    // Never more than one of ours is read at once, but the runtime's compiler and collector work beside it.
    private static Caveat? ProcessorQuota(CaveatGround ground)
    {
        var needed = Math.Max(LeastQuota, ground.Record.Study.Variants.Max(row => row.Loop.Threads ?? 1));
        return ground.Run.Machine.ProcessorQuota is not { } quota || quota >= needed ? null : new Caveat
        {
            Name = "processor-quota",
            Evidence = Text($"the system gives this process the time of {quota:0.##} processors at most, and lets it stand still ",
                $"beyond that"),
            WayOut = "raise the container's share to two processors, or one for every thread that calls; contrasts are paired and hold",
        };
    }

    private static Caveat? FrequencyPolicy(CaveatGround ground)
        => ground.Run.Machine.Governor is not { } policy || !SavingPolicies.Contains(policy)
            || !(ground.Findings.Metronome.SpreadShare > UnsteadyShare) ? null : new Caveat
        {
            Name = "frequency-policy",
            Evidence = Text($"the processor's frequency policy is {policy}, and the metronome's readings spread over ",
                $"{ground.Findings.Metronome.SpreadShare:P0}"),
            WayOut = "set the policy to performance while you measure",
        };

    private static Caveat? ClockStepped(CaveatGround ground)
        => Math.Abs(ground.Run.ClockStepSeconds) <= LeastClockStepSeconds ? null : new Caveat
        {
            Name = "clock-stepped",
            Evidence = Text($"the calendar clock moved {ground.Run.ClockStepSeconds:+0.0;-0.0} s beyond the time that passed: it was ",
                $"set, or the machine slept"),
            WayOut = "readings are timed by a clock that nobody sets, and hold; trust no date in this run",
        };

    private static Caveat? MemoryShort(CaveatGround ground)
        => ground.Record.Sittings.Max(sitting => sitting.MemoryLoadShare) is not (>= AnxiousMemoryShare and var load) ? null : new Caveat
        {
            Name = "memory-short",
            Evidence = Text($"memory in use was {load:P0} of what makes the collector anxious, so that it works harder than it would ",
                $"elsewhere"),
            WayOut = "free memory or raise the process's limit, and run again",
        };

    private static Caveat? StoodStill(CaveatGround ground)
        => Standstills(ground) is not { Count: > 0 } standstills ? null : new Caveat
        {
            Name = "stood-still",
            Evidence = Text($"the worker was kept from the processor for up to {standstills.Max() * 1e-9:0.0} s at once, in ",
                $"{standstills.Count} reading{(standstills.Count == 1 ? "" : "s")}: it was suspended, or the machine stood still"),
            WayOut = "medians leave these readings out; let nothing stop the worker",
        };

    private static double Spread(IEnumerable<double> values)
    {
        var known = values.Where(double.IsFinite).DefaultIfEmpty(1).ToList();
        return known.Max() / known.Min();
    }

    // Nanoseconds that readings were kept from the processor far beyond their own length. What waits is off it by nature.
    private static List<double> Standstills(CaveatGround ground)
    {
        var standstills = new List<double>();
        foreach (var figures in ground.Sittings)
        {
            foreach (ref readonly var reading in ReadingSpan.Of(figures.Record.Readings))
            {
                if (reading.ElapsedNanoseconds > LeastStandstillNanoseconds && reading.ProcessorNanoseconds is { } processor
                    && reading.ElapsedNanoseconds - processor is var away && away > LeastStandstillNanoseconds
                    && away > StandstillReadings * (processor + 1.0)
                    && !figures.Signals[reading.Cell].IsMostlyWaiting && figures.Record.Cells[reading.Cell].Loop.Path != CallPath.Awaited)
                {
                    standstills.Add(away);
                }
            }
        }

        return standstills;
    }
}
