using System.Reflection;
using Tachyscope.Answers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope;

internal sealed class StudyBody<TInput, TResult>(
    InputMaker<TInput>[] inputs, VariantOperation<TInput, TResult>[] variants, AnswerRule<TResult> rule) : StudyBody
{
    private readonly Dictionary<int, TResult> _references = [];

    public override IEnumerable<Assembly> Assemblies
        => variants.Select(variant => variant.Operation.Method.Module.Assembly).Distinct();

    public override IReadOnlyList<string> Inspect(int seed)
    {
        var mistakes = new List<string>();
        foreach (var input in inputs)
        {
            try
            {
                input.Make(seed);
            }
#pragma warning disable CA1031 // Whatever the user's factory throws is the finding.
            catch (Exception exception)
#pragma warning restore CA1031
            {
                mistakes.Add(
                    $"the factory of input \"{input.Description.Label}\" threw {ExceptionText.Of(exception)}; mend it or leave that input out.");
            }
        }

        return mistakes;
    }

    public override CheckReply Check(CheckRequest request)
    {
        TResult answer;
        try
        {
            // A fresh input for every check: a variant that changes its input must not spoil the next one's.
            answer = variants[request.Variant].Operation(inputs[request.Input].Make(request.Seed));
        }
#pragma warning disable CA1031 // Whatever the user's operation throws is the finding.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            return new CheckReply { Failure = CellFailureKind.Threw, Reason = $"threw {ExceptionText.Of(exception)}" };
        }

        if (request.Variant == request.Reference)
        {
            _references[request.Input] = answer;
            return new CheckReply();
        }

        return Compare(request, answer);
    }

    public override IReadOnlyList<MeasuredCell> Open(IReadOnlyList<CellDescription> cells, int seed)
    {
        var shared = new Dictionary<int, TInput>();
        return [.. cells.Select(cell => Open(cell, seed, shared))];
    }

    private MeasuredCell Open(CellDescription cell, int seed, Dictionary<int, TInput> shared)
    {
        if (cell.Kind == CellKind.Metronome)
        {
            return MeasuredCell.OfMetronome(cell);
        }

        var input = cell.Kind == CellKind.Twin || !shared.TryGetValue(cell.Input, out var made)
            ? inputs[cell.Input].Make(seed)
            : made;
        if (cell.Kind != CellKind.Twin)
        {
            shared[cell.Input] = input;
        }

        return cell.Kind == CellKind.Identity
            ? MeasuredCell.OfIdentity<TInput, TResult>(cell, input)
            : MeasuredCell.OfOperation(cell, input, variants[cell.Variant].Operation);
    }

    private CheckReply Compare(CheckRequest request, TResult answer)
    {
        if (!_references.TryGetValue(request.Input, out var reference))
        {
            reference = variants[request.Reference].Operation(inputs[request.Input].Make(request.Seed));
            _references[request.Input] = reference;
        }

        try
        {
            if (rule.Agrees(reference, answer))
            {
                return new CheckReply();
            }
        }
#pragma warning disable CA1031 // The rule may be the user's own.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            return new CheckReply { Failure = CellFailureKind.Threw, Reason = $"its agreement rule threw {ExceptionText.Of(exception)}" };
        }

        return new CheckReply
        {
            Failure = CellFailureKind.Disagrees,
            Reason = AnswerText.Difference(reference, answer, rule, variants[request.Reference].Description.Name),
        };
    }
}
