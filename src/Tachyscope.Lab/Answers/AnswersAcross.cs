using System.Globalization;
using System.Text.RegularExpressions;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Answers;

/// <summary>Compares each row's answers on every target with its own on the first that has it.</summary>
internal sealed partial class AnswersAcross(StudyDescription study, IReadOnlyList<string> names)
{
    // Of an answer within a tolerance; more of them would be the larger part of a run.
    private const int MostNumbersKept = 1_000;

    private readonly Dictionary<(int Variant, int Input), (AnswerDigest? Answer, int Target)> _first = [];

    /// <summary>Rows that answer otherwise.</summary>
    public List<CellFailure> Failures { get; } = [];

    /// <summary>Rows of which that cannot be told.</summary>
    public List<CellObservation> Observations { get; } = [];

    /// <summary>An answer as it is kept with a run: it tells nobody where somebody's files lie.</summary>
    /// <param name="cell">The answer.</param>
    /// <param name="isWhole">Whether all its numbers are, to be compared with those of other machines.</param>
    public static CellAnswer Kept(CellAnswer cell, bool isWhole) => cell.Answer is not { } answer ? cell : cell with
    {
        Answer = answer with
        {
            Text = Root().Replace(answer.Text, "$1…/"),
            Numbers = isWhole || !(answer.Numbers?.Count > MostNumbersKept) ? answer.Numbers : null,
        },
    };

    public void Hear(CellAnswer cell)
    {
        var answer = cell.Answer;
        if (_first.TryAdd((cell.Variant, cell.Input), (answer, cell.Target)))
        {
            return;
        }

        var (expected, target) = _first[(cell.Variant, cell.Input)];
        if (expected is null && answer is null)
        {
            // An operation without an answer.
            return;
        }

        if (AreSame(expected, answer))
        {
            return;
        }

        var isTold = expected is not null && answer is not null && study.Tolerance is not null
            && (study.Tolerance == 0 ? expected.Hash is not null && answer.Hash is not null
                : expected.Numbers is not null && answer.Numbers is not null);
        if (isTold)
        {
            Failures.Add(new CellFailure
            {
                Variant = cell.Variant, Input = cell.Input, Target = cell.Target, Kind = CellFailureKind.Disagrees,
                Reason = $"{Difference(expected!, answer!)} on {names[target]}",
            });
        }
        else if (!Observations.Exists(seen => (seen.Variant, seen.Target) == (cell.Variant, cell.Target)))
        {
            Observations.Add(new CellObservation
            {
                Variant = cell.Variant,
                Input = cell.Input,
                Target = cell.Target,
                Kind = ObservationKind.NotComparedAcross,
                Evidence = expected is null || answer is null
                    ? $"its answer was not told by {names[expected is null ? target : cell.Target]}"
                    : study.Tolerance is null ? $"it answers {answer.Text} where it answers {expected.Text} on {names[target]}, and the "
                        + "study's own rule holds within one process only"
                    : $"its answer on {names[target]} cannot be written down in full",
            });
        }
    }

    // All but the last name of a path from the root.
    [GeneratedRegex(@"(^|[\s""'(\[=,:])(?:/|[A-Za-z]:[\\/])(?:[^/\\,=\s""']+[\\/])+")]
    private static partial Regex Root();

    private bool AreSame(AnswerDigest? one, AnswerDigest? other)
        => one is not null && other is not null
            && ((one.Hash is not null && one.Hash == other.Hash)
                || (study.Tolerance is { } tolerance && one.Numbers is { } left && other.Numbers is { } right && left.Count == right.Count
                    && left.Zip(right).All(pair => AreClose(pair.First, pair.Second, tolerance))));

    // As workers compare.
    private static bool AreClose(double one, double other, double tolerance)
        => one.Equals(other) || Math.Abs(one - other) <= tolerance * Math.Max(1, Math.Max(Math.Abs(one), Math.Abs(other)));

    private string Difference(AnswerDigest expected, AnswerDigest answer)
    {
        if (expected.Text != answer.Text)
        {
            return $"answers {answer.Text} where it answers {expected.Text}";
        }

        var index = expected.Numbers is { } left && answer.Numbers is { } right
            ? left.Zip(right).TakeWhile(pair => AreClose(pair.First, pair.Second, study.Tolerance ?? 0)).Count()
            : -1;
        return index < 0 || index >= Math.Min(expected.Numbers!.Count, answer.Numbers!.Count)
            ? "answers otherwise than it does"
            : string.Create(CultureInfo.InvariantCulture,
                $"answers {answer.Numbers[index]:R} at index {index} where it answers {expected.Numbers[index]:R}");
    }
}
