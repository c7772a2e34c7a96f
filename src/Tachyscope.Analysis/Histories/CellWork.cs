using System.Globalization;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Histories;

/// <summary>What a cell was given and what it answered, as far as two runs can be held together by it.</summary>
/// <remarks>
/// A time says something of the code only where the work was the same. An answer that must agree exactly is known by its hash. Of one with
/// a tolerance the number of its numbers and two sums of them are kept (plain, and weighed by place from 0 to 1): where each number lies
/// within its tolerance, so does each sum within that of all of them, so that a sum beyond it shows another answer, and one within it
/// shows nothing. What follows a rule of the study's own cannot be told.
/// </remarks>
public sealed record CellWork
{
    // 64 bits tell runs of one cell apart.
    private const int KeptOfHash = 16;

    private const double RoundingShare = 2.3e-16;

    /// <summary>The beginning of the hash of its input; null where that is not known.</summary>
    public string? Input { get; init; }

    /// <summary>Its answer in a form that can be compared; null where it cannot.</summary>
    public string? Answer { get; init; }

    /// <summary>Its answer in a few words; null where it has none, or it is not known.</summary>
    public string? Told { get; init; }

    /// <summary>What differs between two runs of a cell; null where nothing does, or that cannot be told.</summary>
    /// <param name="before">What is known of the earlier run.</param>
    /// <param name="now">What is known of the later one.</param>
    public static WorkDifference? Difference(CellWork? before, CellWork? now)
    {
        if (before is null || now is null)
        {
            return null;
        }

        var isOfAnswer = before.Answer is { } one && now.Answer is { } other && AreOthers(one, other);
        return before.Input is not null && now.Input is not null && before.Input != now.Input
            ? new WorkDifference(true, before.Told, now.Told)
            : isOfAnswer ? new WorkDifference(false, before.Told, now.Told) : null;
    }

    internal static CellWork? Of(StudyRecord record, int variant, int input, int target)
    {
        var here = (record.Answers ?? []).Where(answer => answer.Input == input && answer.Target == target).ToList();
        // A guest answers what the baseline does, or it is not measured.
        var own = here.Find(record.Study.Variants[variant].Guest is null ? answer => answer.Variant == variant
            : answer => record.Study.Variants[answer.Variant] is { IsBaseline: true, Part: not VariantPart.Prepare })?.Answer;
        return here.Count == 0 ? null : new CellWork
        {
            Input = Short(here.Find(answer => answer.InputHash is not null)?.InputHash),
            Answer = record.Study.Tolerance switch
            {
                0 => Short(own?.Hash),
                > 0 and var tolerance => own?.Numbers is { } numbers ? Sums(numbers, tolerance) : null,
                _ => null,
            },
            Told = own?.Text,
        };
    }

    private static string? Short(string? hash) => hash?[..Math.Min(hash.Length, KeptOfHash)];

    private static string? Sums(IReadOnlyList<double> numbers, double tolerance)
    {
        var (plain, weighed, allowed) = (0.0, 0.0, 0.0);
        for (var place = 0; place < numbers.Count; place++)
        {
            plain += numbers[place];
            weighed += numbers[place] * place / numbers.Count;
            allowed += tolerance * Math.Max(1, Math.Abs(numbers[place]));
        }

        // Each sum may be rounded by so much.
        allowed += numbers.Count * numbers.Sum(Math.Abs) * RoundingShare;
        return double.IsFinite(plain) && double.IsFinite(allowed)
            ? string.Create(CultureInfo.InvariantCulture, $"{numbers.Count} {plain:R} {weighed:R} {allowed:R}")
            : null;
    }

    private static bool AreOthers(string one, string other)
    {
        var (left, right) = (one.Split(' '), other.Split(' '));
        if (left.Length == 1 || right.Length == 1)
        {
            // A rule that was another then says nothing of the answers.
            return left.Length == right.Length && one != other;
        }

        double Number(string[] parts, int index) => double.Parse(parts[index], CultureInfo.InvariantCulture);
        // The larger of two numbers is no more than both.
        var allowed = Number(left, 3) + Number(right, 3);
        return left[0] != right[0] || Math.Abs(Number(left, 1) - Number(right, 1)) > allowed
            || Math.Abs(Number(left, 2) - Number(right, 2)) > allowed;
    }
}
