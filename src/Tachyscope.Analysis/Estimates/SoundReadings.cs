using System.Globalization;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Keeps readings that cannot be true out of the figures: a file may have been altered or damaged.</summary>
/// <param name="Study">The study with the sound readings only; the study itself when all are.</param>
/// <param name="LeftOut">Readings left out.</param>
/// <param name="FirstFault">What is wrong with the first of them; null when none is.</param>
internal sealed record SoundReadings(StudyRecord Study, int LeftOut, string? FirstFault)
{
    private const long NanosecondsPerDay = 86_400_000_000_000;

    public static SoundReadings Of(StudyRecord study)
    {
        var leftOut = 0;
        string? first = null;
        var sittings = new List<SittingRecord>(study.Sittings.Count);
        foreach (var sitting in study.Sittings)
        {
            List<Reading>? sound = null;
            var readings = ReadingSpan.Of(sitting.Readings);
            for (var index = 0; index < readings.Length; index++)
            {
                ref readonly var reading = ref readings[index];
                if (IsSound(reading, sitting))
                {
                    sound?.Add(reading);
                    continue;
                }

                leftOut++;
                first ??= string.Create(CultureInfo.InvariantCulture,
                    $"sitting {sitting.Number}, reading {index}: {Fault(reading, sitting)}");
                sound ??= [.. readings[..index]];
            }

            sittings.Add(sound is null ? sitting : sitting with { Readings = sound });
        }

        return new SoundReadings(leftOut == 0 ? study : study with { Sittings = sittings }, leftOut, first);
    }

    private static bool IsSound(in Reading reading, SittingRecord sitting)
        => (uint)reading.Cell < (uint)sitting.Cells.Count
            && (uint)reading.Round < (uint)sitting.Rounds
            && reading.Place >= 0
            && reading.Calls > 0
            && reading.ElapsedNanoseconds is >= 0 and < NanosecondsPerDay
            && reading.ProcessorNanoseconds is null or >= 0
            && (reading.AllocatedBytes | reading.PauseNanoseconds) >= 0
            && (reading.CollectionsGen0 | reading.CollectionsGen1 | reading.CollectionsGen2) >= 0
            && (reading.CompiledMethods | reading.LockContentions) >= 0;

    private static string Fault(in Reading reading, SittingRecord sitting)
        => (uint)reading.Cell >= (uint)sitting.Cells.Count
            ? FormattableString.Invariant($"cell {reading.Cell}, where there are {sitting.Cells.Count}")
            : (uint)reading.Round >= (uint)sitting.Rounds
                ? FormattableString.Invariant($"round {reading.Round}, where there are {sitting.Rounds}")
            : reading.Calls <= 0 ? FormattableString.Invariant($"{reading.Calls} calls")
            : reading.ElapsedNanoseconds is < 0 or >= NanosecondsPerDay ? FormattableString.Invariant($"{reading.ElapsedNanoseconds} ns")
            : "a count below 0";
}
