using System.Globalization;
using Tachyscope.Runs;

namespace Tachyscope.Storing;

/// <summary>Finds what in a run does not go together, although each part reads well.</summary>
/// <remarks>Readings are looked at where they are analysed: single ones that cannot be true are left out there.</remarks>
internal static class RunCheck
{
    /// <summary>The first fault: where, and what; null when there is none.</summary>
    public static (string Path, string Fault)? Find(Run run)
        => run.Plan.MarginShare is not (> 0 and < 1) ? ("$.plan.marginShare", Text($"{run.Plan.MarginShare} is no share between 0 and 1"))
            : !run.ReadingColumns.SequenceEqual(ReadingColumns.Names)
                ? ("$.readingColumns", $"the columns are not {string.Join(", ", ReadingColumns.Names)}")
            : run.Studies.SelectMany((study, index) => Faults(study, Text($"$.studies[{index}]"), Math.Max(1, run.Targets.Count)))
                .Select(fault => ((string, string)?)fault).FirstOrDefault();

    private static IEnumerable<(string Path, string Fault)> Faults(StudyRecord? record, string at, int targets)
    {
        if (record is null)
        {
            yield return (at, "there is nothing where a study should be");
            yield break;
        }

        var (variants, inputs) = (record.Study.Variants.Count, record.Study.Inputs.Count);
        var named = record.Study.Variants.Cast<object?>().Concat(record.Study.Inputs);
        if (variants == 0 || inputs == 0 || named.Any(part => part is null))
        {
            yield return ($"{at}.study", Text($"it has {variants} variants and {inputs} inputs, of which none may be missing"));
            yield break;
        }

        (string Path, string Fault)? Cell(string path, int variant, int input)
            => Index($"{path}.variant", variant, variants, "variants") ?? Index($"{path}.input", input, inputs, "inputs");
        (string Path, string Fault)? Target(string path, int target) => Index($"{path}.target", target, targets, "targets");
        var faults = record.Failures.Select((failure, index) => Cell(Text($"{at}.failures[{index}]"), failure.Variant, failure.Input))
            .Concat(record.Observations.Select((seen, index) => Cell(Text($"{at}.observations[{index}]"), seen.Variant, seen.Input)))
            .Concat(record.Diagnoses.Select((found, index) => Cell(Text($"{at}.diagnoses[{index}]"), found.Variant, found.Input)))
            .Concat((record.Answers ?? []).Select((answer, index)
                => Cell(Text($"{at}.answers[{index}]"), answer.Variant, answer.Input)))
            .Concat(record.Failures.Select((failure, index) => Target(Text($"{at}.failures[{index}]"), failure.Target)))
            .Concat(record.Observations.Select((seen, index) => Target(Text($"{at}.observations[{index}]"), seen.Target)))
            .Concat(record.Diagnoses.Select((found, index) => Target(Text($"{at}.diagnoses[{index}]"), found.Target)))
            .Concat((record.Answers ?? []).Select((answer, index) => Target(Text($"{at}.answers[{index}]"), answer.Target)))
            .Concat(record.Sittings.SelectMany((sitting, index) => Faults(sitting, Text($"{at}.sittings[{index}]"), Cell)))
            .Concat(record.Sittings.Where(sitting => sitting is not null).SelectMany((sitting, index) => sitting.Cells
                .Where(own => own is not null)
                .Select((own, number) => Target(Text($"{at}.sittings[{index}].cells[{number}]"), own.Target))));
        foreach (var fault in faults.OfType<(string, string)>())
        {
            yield return fault;
        }
    }

    private static IEnumerable<(string Path, string Fault)?> Faults(
        SittingRecord? sitting, string at, Func<string, int, int, (string Path, string Fault)?> cell)
    {
        if (sitting is null)
        {
            return [(at, "there is nothing where a sitting should be")];
        }

        // Every round has readings, so that more rounds than readings cannot be.
        (string, string)? rounds = sitting.Rounds < 0 || sitting.Rounds > sitting.Readings.Count
            ? ($"{at}.rounds", Text($"{sitting.Rounds} rounds cannot have left {sitting.Readings.Count} readings"))
            : null;
        var areTimesSound = sitting is { BeganSeconds: >= 0, WarmUpMilliseconds: >= 0 }
            && (sitting.EndedSeconds >= sitting.BeganSeconds || sitting.Rounds == 0);
        (string, string)? times = areTimesSound ? null : ($"{at}.beganSeconds", "its times are below 0, or it ended before it began");
        var cells = sitting.Cells.Count;
        return sitting.Cells.Select((own, index) => own is null
                ? (Text($"{at}.cells[{index}]"), "there is nothing where a cell should be")
                : cell(Text($"{at}.cells[{index}]"), own.Variant, own.Input))
            .Append(rounds)
            .Append(times)
            .Concat(sitting.WarmUps.Select((warm, index) => Fault(warm, Text($"{at}.warmUps[{index}]"), cells)))
            .Concat(sitting.StageReadings.Select((reading, index) => Fault(reading, Text($"{at}.stageReadings[{index}]"), cells)));
    }

    private static (string Path, string Fault)? Fault(WarmUp warm, string at, int cells)
        => Index($"{at}.cell", warm.Cell, cells, "cells") is { } index ? index
            : warm is { NanosecondsPerCall: >= 0, CallsPerReading: >= 0, FirstCallNanoseconds: >= 0 } ? null
            : (at, "a time or a count is below 0");

    private static (string Path, string Fault)? Fault(StageReading reading, string at, int cells)
        => Index($"{at}.cell", reading.Cell, cells, "cells") is { } index ? index
            : reading.Calls <= 0 ? ($"{at}.calls", Text($"{reading.Calls} calls cannot be timed"))
            : reading.ElapsedNanoseconds < 0 ? ($"{at}.elapsedNanoseconds", Text($"{reading.ElapsedNanoseconds} ns is no time"))
            : null;

    private static (string Path, string Fault)? Index(string path, int index, int count, string what)
        => index >= 0 && index < count ? null : (path, Text($"{index} names none of the {count} {what}, which count from 0"));

    private static string Text(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);
}
