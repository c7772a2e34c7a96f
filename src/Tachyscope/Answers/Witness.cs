using System.Collections;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Answers;

/// <summary>Notices, while answers are compared, what may spoil the figures of a variant.</summary>
internal sealed class Witness<TInput, TResult>(StudyParts<TInput, TResult> parts)
{
    private const int MostElementsCompared = 1_000_000;
    private const int FewestInputs = 3;

    private readonly Dictionary<int, Dictionary<int, object?>> _answers = [];

    public IEnumerable<Observed> Observe(CheckRequest request, TResult answer, TInput input)
    {
        var loop = parts.Rows[request.Variant].Description.Loop;
        if (!parts.IsInputChanged && IsSmall(input) && AnswerEquality.IsComparable(input)
            && !AnswerEquality.AreSame(input, parts.Inputs[request.Input].Make(request.Seed)))
        {
            yield return new Observed(ObservationKind.ChangesInput, "its input was another after the call");
        }

        if (loop.Result != ResultKind.Enumerated && Later(answer) is { } what)
        {
            yield return new Observed(ObservationKind.AnswersLater, $"it answers with {what}");
        }

        if (IgnoresInput(request, answer))
        {
            yield return new Observed(ObservationKind.IgnoresInput, $"it answers the same to all {_answers[request.Variant].Count} inputs");
        }
    }

    private static bool IsSmall(TInput input) => input is not ICollection { Count: > MostElementsCompared };

    // What was made by an iterator or a query is worked out when it is gone through.
    private static string? Later(object? answer) => answer switch
    {
        Task task => task.IsCompleted ? null : "a task that was not over",
        Delegate => "a function",
        IEnumerable and not ICollection and not string => answer.GetType() is { Namespace: "System.Linq" } or { Name: ['<', ..] }
            ? "a sequence that is worked out when somebody goes through it"
            : null,
        _ => answer?.GetType() is { IsGenericType: true } type && type.GetGenericTypeDefinition() == typeof(Lazy<>)
            ? "a value that is made when first asked for"
            : null,
    };

    // Told once the last input was seen.
    private bool IgnoresInput(CheckRequest request, TResult answer)
    {
        if (answer is bool or NoAnswer || !AnswerEquality.IsComparable(answer))
        {
            return false;
        }

        if (!_answers.TryGetValue(request.Variant, out var answers))
        {
            _answers[request.Variant] = answers = [];
        }

        answers[request.Input] = answer;
        var kinds = Enumerable.Range(0, parts.Inputs.Length).Where(index => !parts.Inputs[index].Description.IsOfMany()).ToList();
        return kinds.Count >= FewestInputs && request.Input == kinds[^1] && answers.Count == kinds.Count
            && answers.Values.All(other => AnswerEquality.AreSame(other, answer)) && AreDifferent(kinds, request.Seed);
    }

    private bool AreDifferent(List<int> kinds, int seed)
    {
        var first = parts.Inputs[kinds[0]].Make(seed);
        return AnswerEquality.IsComparable(first)
            && kinds.Skip(1).All(kind => !AnswerEquality.AreSame(first, parts.Inputs[kind].Make(seed)));
    }
}
