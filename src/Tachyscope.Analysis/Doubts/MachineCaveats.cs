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

        if (Standstills(ground.Record) is (> 0 and var count, var longest))
        {
            yield return new Caveat
            {
                Name = "stood-still",
                Evidence = Text($"the worker was kept from the processor for up to {longest * 1e-9:0.0} s at once, in {count} reading{(count == 1 ? "" : "s")}: it was suspended, or the machine stood still"),
                WayOut = "medians leave these readings out; let nothing stop the worker",
            };
        }
    }

    private static (int Count, double Longest) Standstills(StudyRecord record)
    {
        var (count, longest) = (0, 0.0);
        foreach (var sitting in record.Sittings)
        {
            foreach (var reading in sitting.Readings)
            {
                // What is awaited is off the processor by nature.
                if (sitting.Cells[reading.Cell].Loop.Path == CallPath.Awaited || reading.ProcessorNanoseconds is not { } processor)
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
