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
    private const double BreadthShare = 0.1;

    // Loops over vectors were seen to suffer up to three times as much as the work that fills the processor.
    private const double BreadthReach = 3;
    private static readonly string[] SavingPolicies = ["powersave", "ondemand", "conservative", "schedutil"];

    public static IEnumerable<Caveat> Find(CaveatGround ground)
    {
        var beats = ground.Sittings.Select(sitting => sitting.MedianBeat).Where(double.IsFinite).ToList();
        var drift = beats.Count > 1 ? (beats.Max() / beats.Min()) - 1 : 0;
        if (drift > DriftShare)
        {
            yield return new Caveat
            {
                Name = "speed-changed",
                Evidence = Text($"the machine's speed differed by {drift:P0} between sittings"),
                WayOut = "contrasts are paired and hold; quote no absolute time from this run, or repeat it on a quieter machine",
            };
        }

        if (BreadthSpread(ground) is var spread and > 1 + BreadthShare)
        {
            yield return new Caveat
            {
                Name = "core-shared",
                Evidence = Text($"work that fills the processor took up to {spread:0.0} times as long in some sittings as in others, although the metronome ran as fast: somebody else used the same core"),
                WayOut = "operations that fill the processor, such as loops over vectors, differ by as much for the same reason; repeat on a quieter machine, or one of your own",
            };
        }

        var metronome = ground.Findings.Metronome;
        if (metronome.Steadiness == Steadiness.Noisy)
        {
            yield return new Caveat
            {
                Name = "noisy-machine",
                Evidence = Text($"{metronome.SlowShare:P0} of the metronome's readings were more than 5 % slower than its median"),
                WayOut = "close what else runs on this machine; contrasts are paired and hold, their intervals are wider than they need be",
            };
        }

        var policy = ground.Run.Machine.Governor;
        if (policy is not null && SavingPolicies.Contains(policy) && metronome.SpreadShare > UnsteadyShare)
        {
            yield return new Caveat
            {
                Name = "frequency-policy",
                Evidence = Text($"the processor's frequency policy is {policy}, and the metronome's readings spread over {metronome.SpreadShare:P0}"),
                WayOut = "set the policy to performance while you measure",
            };
        }

        if (Math.Abs(ground.Run.ClockStepSeconds) > LeastClockStepSeconds)
        {
            yield return new Caveat
            {
                Name = "clock-stepped",
                Evidence = Text($"the calendar clock moved {ground.Run.ClockStepSeconds:+0.0;-0.0} s beyond the time that passed: it was set, or the machine slept"),
                WayOut = "readings are timed by a clock that nobody sets, and hold; trust no date in this run",
            };
        }

        var load = ground.Record.Sittings.Max(sitting => sitting.MemoryLoadShare);
        if (load > AnxiousMemoryShare)
        {
            yield return new Caveat
            {
                Name = "memory-short",
                Evidence = Text($"memory in use was {load:P0} of what makes the collector anxious, so that it works harder than it would elsewhere"),
                WayOut = "free memory or raise the process's limit, and run again",
            };
        }

        if (Standstills(ground) is (> 0 and var count, var longest))
        {
            yield return new Caveat
            {
                Name = "stood-still",
                Evidence = Text($"the worker was kept from the processor for up to {longest * 1e-9:0.0} s at once, in {count} reading{(count == 1 ? "" : "s")}: it was suspended, or the machine stood still"),
                WayOut = "medians leave these readings out; let nothing stop the worker",
            };
        }
    }

    /// <summary>Whether a difference of times may come of a core that was shared in some sittings and less so in others.</summary>
    /// <param name="ground">The study.</param>
    /// <param name="logRatio">The difference, as the logarithm of a ratio.</param>
    public static bool MayExplain(CaveatGround ground, double logRatio)
        => BreadthSpread(ground) is var spread && spread > 1 + BreadthShare && logRatio < BreadthReach * Math.Log(spread);

    private static double BreadthSpread(CaveatGround ground)
    {
        var breadths = ground.Sittings.Select(sitting => sitting.Breadth).Where(double.IsFinite).DefaultIfEmpty(1).ToList();
        return breadths.Max() / breadths.Min();
    }

    private static (int Count, double Longest) Standstills(CaveatGround ground)
    {
        var (count, longest) = (0, 0.0);
        foreach (var (sitting, figures) in ground.Record.Sittings.Zip(ground.Sittings))
        {
            foreach (var reading in sitting.Readings)
            {
                // What waits is off the processor by nature.
                if (reading.ProcessorNanoseconds is not { } processor || figures.Signals[reading.Cell].IsMostlyWaiting || sitting.Cells[reading.Cell].Loop.Path == CallPath.Awaited)
                {
                    continue;
                }

                var away = reading.ElapsedNanoseconds - processor;
                if (away > LeastStandstillNanoseconds && away > StandstillReadings * (processor + 1.0))
                {
                    count++;
                    longest = Math.Max(longest, away);
                }
            }
        }

        return (count, longest);
    }
}
