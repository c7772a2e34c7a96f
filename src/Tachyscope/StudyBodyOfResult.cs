using System.Collections;
using System.Reflection;
using System.Text.Json;
using Tachyscope.Answers;
using Tachyscope.Measuring;
using Tachyscope.Operations;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope;

internal sealed class StudyBody<TInput, TResult>(StudyParts<TInput, TResult> parts) : StudyBody
{
    private const int PoolInputsCompared = 8;
    private const double MemoryShareOfPool = 0.5;

    private readonly Dictionary<int, (TResult Answer, TInput Input)> _references = [];
    private readonly Witness<TInput, TResult> _witness = new(parts);

    public override IEnumerable<Assembly> Assemblies => parts.Rows.SelectMany(row => row.Assemblies).Distinct();

    public override InspectReply Inspect(int seed)
    {
        var mistakes = new List<string>();
        var work = new List<WorkPerCall>();
        for (var index = 0; index < parts.Inputs.Length; index++)
        {
            var input = parts.Inputs[index];
            try
            {
                var made = Make(index, seed);
                if (AnswerEquality.IsComparable(made) && !AnswerEquality.AreSame(made, Make(index, seed)))
                {
                    mistakes.Add(
                        $"the factory of input \"{input.Description.Label}\" made something else the second time "
                            + $"from the same seed {seed}; "
                        + "make it from nothing but its size and seed, as in new Random(seed).");
                }

                mistakes.AddRange(PoolMistakes(index, seed, made));
                if (parts.Work is { } perCall)
                {
                    work.Add(perCall(made));
                }
            }
#pragma warning disable CA1031 // Whatever the user's factory throws is the finding.
            catch (Exception exception)
#pragma warning restore CA1031
            {
                mistakes.Add(
                    $"the factory of input \"{input.Description.Label}\" threw {ExceptionText.Of(exception)}; mend it or leave that "
                        + "input out.");
            }
        }

        return new InspectReply { Mistakes = mistakes, Work = work.Count == parts.Inputs.Length ? Mixed(work) : [] };
    }

    public override CheckReply Check(CheckRequest request)
    {
        var row = parts.Rows[request.Variant];
        TResult answer;
        // A fresh input for every check: a variant that changes its input must not spoil the next one's.
        TInput input;
        string? hash;
        try
        {
            input = Make(request.Input, request.Seed);
            // Once for each input, and before an operation can change it.
            hash = request.IsAnswerWanted && request.Variant == request.Reference ? AnswerDigester.OfInput(input) : null;
            Whereabouts.Enter(WorkerPlace.Row, request.Variant);
            StageRecorder.Begin();
            answer = row.Answer(input);
            Enumerate(answer);
        }
#pragma warning disable CA1031 // Whatever the user's operation throws is the finding.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            StageRecorder.End();
            return new CheckReply { Failure = CellFailureKind.Threw, Reason = $"threw {ExceptionText.Of(exception)}" };
        }

        StageRecorder.End();
        if (StageRecorder.Mistake is { } mistake)
        {
            return new CheckReply { Failure = CellFailureKind.LeftStageOpen, Reason = mistake };
        }

        if (!row.HasAnswer)
        {
            return new CheckReply();
        }

        var reply = request.Variant == request.Reference ? CheckItself(request, answer, input)
            : Compare(request.Input, request.Seed, request.Reference, answer, input);
        reply = reply.Failure is null ? OfPool(request) ?? reply : reply;
        return reply with
        {
            Observed = [.. _witness.Observe(request, answer, input)],
            Answer = request.IsAnswerWanted && reply.Failure is null
                ? AnswerDigester.Of(answer is NoAnswer ? input : answer, parts.Rule.Tolerance)
                : null,
            // What is another each time tells nothing of another run.
            InputHash = hash is not null && hash == AnswerDigester.OfInput(Make(request.Input, request.Seed)) ? hash : null,
        };
    }

    public override IReadOnlyList<MeasuredCell> Open(
        IReadOnlyList<CellDescription> cells, int seed, int shuffle, IReadOnlyList<int>? indices = null)
    {
        var shared = new Dictionary<int, InputRow<TInput>>();
        return [.. cells.Select((cell, place) => Open(cell, indices?[place] ?? place, new SittingSeeds(seed, shuffle), shared))];
    }

    public override Func<object?> Preparing(CellDescription cell, int seed)
    {
        var input = Make(cell.Input, seed);
        return () => parts.Rows[cell.Variant].Prepare(input);
    }

    public override MethodInfo? Method(int variant) => parts.Rows[variant].Method;

    public override InputReply Send(InputRequest request)
        => new() { Value = Guest(request.Variant).Send(Make(request.Input, request.Seed)) };

    public override CheckReply Judge(JudgeRequest request)
    {
        TResult answer;
        try
        {
            answer = Guest(request.Variant).Read(request.Value);
        }
        catch (JsonException)
        {
            var told = request.Value.GetRawText();
            return new CheckReply
            {
                Failure = CellFailureKind.Disagrees,
                Reason = $"answers {AnswerText.Shortened(told)}, which cannot be read as {typeof(TResult).Name}; "
                    + "give .Guest(…) a read that can",
            };
        }
#pragma warning disable CA1031 // Whatever the user's reading throws is the finding.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            return new CheckReply { Failure = CellFailureKind.Threw,
                Reason = $"what reads its answer threw {ExceptionText.Of(exception)}" };
        }

        var input = Make(request.Input, request.Seed);
        if (request.Variant == request.Reference)
        {
            // None of ours has answered: the others must agree with this one.
            _references[request.Input] = (answer, input);
        }

        return Compare(request.Input, request.Seed, request.Reference, answer, input);
    }

    private GuestOperation<TInput, TResult> Guest(int row)
        => parts.Rows[row] as GuestOperation<TInput, TResult>
            ?? throw new RpcException(RpcError.InvalidParameters, $"Row {row} is no guest's; ask \"{WorkerMethods.Check}\" instead.");

    // The mix gets done what its kinds do, as often as they come.
    private List<WorkPerCall> Mixed(List<WorkPerCall> work)
    {
        if (!parts.Inputs[^1].Description.IsMix)
        {
            return work;
        }

        var kinds = parts.Inputs.Select((input, index) => (input.Description.Weight, Work: work[index]))
            .Where(kind => kind.Weight is not null).ToList();
        var sum = kinds.Sum(kind => kind.Weight!.Value);
        double? Mean(Func<WorkPerCall, double?> quantity)
            => kinds.TrueForAll(kind => quantity(kind.Work) is not null)
                ? kinds.Sum(kind => kind.Weight * quantity(kind.Work) / sum)
                : null;
        work[^1] = new WorkPerCall { Items = Mean(kind => kind.Items), Bytes = Mean(kind => kind.Bytes),
            Operations = Mean(kind => kind.Operations) };
        return work;
    }

    private MeasuredCell Open(CellDescription cell, int index, SittingSeeds seeds, Dictionary<int, InputRow<TInput>> shared)
    {
        if (cell.Kind == CellKind.Metronome)
        {
            return MeasuredCell.OfMetronome(cell, index);
        }

        InputRow<TInput> inputs;
        // A lock that was once fought for stays slower, so what several threads share is shared by no other cell.
        if (cell.Kind == CellKind.Twin || parts.IsInputChanged || cell.Loop.Threads is not null)
        {
            inputs = MakeRow(cell, seeds);
        }
        else if (!shared.TryGetValue(cell.Input, out inputs!))
        {
            inputs = shared[cell.Input] = MakeRow(cell, seeds);
        }

        Whereabouts.Enter(WorkerPlace.Cell, index);
        var row = parts.Rows[cell.Variant];
        var loops = cell.Kind == CellKind.Identity ? row.IdentityLoops(inputs, cell.Loop) : row.Loops(inputs, cell.Loop);
        return new MeasuredCell(cell, loops.Warming, loops.Build)
        {
            Index = index, Clock = loops.Clock, Refill = inputs.Refill, Stretch = inputs.Stretch,
            MostCalls = inputs.MostCalls, Cold = loops.Cold,
            Method = cell.Kind == CellKind.Identity ? null : row.Method,
            InputOffset = cell.Kind == CellKind.Identity ? null : inputs.Offset,
        };
    }

    private InputRow<TInput> MakeRow(CellDescription cell, SittingSeeds seeds)
    {
        var input = parts.Inputs[cell.Input];
        if (parts.IsInputChanged)
        {
            Whereabouts.Enter(WorkerPlace.Input, cell.Input);
            return InputRow<TInput>.Fresh(() => input.Make(seeds.Inputs), parts.Reset);
        }

        if (input.Description.Pool is { } count)
        {
            return InputRow<TInput>.Pool(
                [.. Enumerable.Range(0, count).Select(number => Make(cell.Input, seeds.Inputs + number))],
                    input.Description.IsPoolInTurn, seeds.Shuffle);
        }

        if (!input.Description.IsMix)
        {
            return InputRow<TInput>.Same(Make(cell.Input, seeds.Inputs));
        }

        var kinds = parts.Inputs.Select((kind, index) => (Index: index, kind.Description.Weight))
            .Where(kind => kind.Weight is not null)
            .ToList();
        return InputRow<TInput>.Mix(
            [.. kinds.Select(kind => Make(kind.Index, seeds.Inputs))], [.. kinds.Select(kind => kind.Weight!.Value)], seeds.Shuffle);
    }

    // A pool whose inputs are all the same tells what a single one tells, and one larger than memory what its paging takes.
    private IEnumerable<string> PoolMistakes(int index, int seed, TInput first)
    {
        var input = parts.Inputs[index].Description;
        if (input.Pool is not (>= 2 and var count))
        {
            yield break;
        }

        var before = GC.GetAllocatedBytesForCurrentThread();
        var others = Enumerable.Range(1, Math.Min(PoolInputsCompared, count - 1)).Select(number => Make(index, seed + number)).ToList();
        var bytes = (GC.GetAllocatedBytesForCurrentThread() - before) / others.Count;
        if (AnswerEquality.IsComparable(first) && others.TrueForAll(other => AnswerEquality.AreSame(first, other)))
        {
            yield return $"the factory of the pool \"{input.Label}\" makes the same from the seeds {seed} to {seed + others.Count}; "
                + "let what it makes depend on its seed, as in new Random(seed), or add a single one with .Input(…).";
        }

        var most = GC.GetGCMemoryInfo().TotalAvailableMemoryBytes * MemoryShareOfPool;
        if (bytes * (double)count > most)
        {
            var (all, each) = (bytes * (double)count / 1e9, bytes / 1e6);
            yield return FormattableString.Invariant($"the pool \"{input.Label}\" takes {all:0.0} GB, {each:0.###} MB for each, ")
                + FormattableString.Invariant($"and {most / 1e9:0.0} GB may be used here; ")
                + FormattableString.Invariant($"give it {Math.Max(1, (long)(most / Math.Max(1, bytes)))} or fewer, or smaller ones.");
        }
    }

    private TInput Make(int input, int seed)
    {
        Whereabouts.Enter(WorkerPlace.Input, input);
        return parts.Inputs[input].Make(seed);
    }

    // Twice on inputs made alike, it has to answer alike: else the factory is to blame, or the operation.
    private CheckReply CheckItself(CheckRequest request, TResult answer, TInput input)
    {
        _references[request.Input] = (answer, input);
        var (again, inputAgain) = Answer(request.Input, request.Seed, request.Variant);
        var difference = Difference(again, inputAgain, request.Input, request.Reference);
        return difference is null
            ? new CheckReply()
            : new CheckReply
            {
                Failure = difference.Failure,
                Reason = $"{difference.Reason} at its first call: the input's factory made something else the second time from the same "
                    + $"seed {request.Seed}, or the operation keeps state between calls; where each call gives another, as a clock does, "
                    + ".Agree((_, _) => true) takes any, and so does --agree any of try",
            };
    }

    // Some more of a pool: who is right on one may be wrong on another.
    private CheckReply? OfPool(CheckRequest request)
    {
        var first = _references[request.Input];
        try
        {
            for (var number = 1; number < Math.Min(PoolInputsCompared, parts.Inputs[request.Input].Description.Pool ?? 0); number++)
            {
                _references[request.Input] = Answer(request.Input, request.Seed + number, request.Reference);
                var (answer, input) = Answer(request.Input, request.Seed + number, request.Variant);
                Enumerate(answer);
                if (Difference(answer, input, request.Input, request.Reference) is { } difference)
                {
                    return difference with
                    {
                        Reason = FormattableString.Invariant($"{difference.Reason}, on the pool's input of seed {request.Seed + number}"),
                    };
                }
            }

            return null;
        }
#pragma warning disable CA1031 // Whatever the user's operation throws is the finding.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            return new CheckReply { Failure = CellFailureKind.Threw,
                Reason = $"threw {ExceptionText.Of(exception)}, on one of the pool's inputs" };
        }
        finally
        {
            _references[request.Input] = first;
        }
    }

    private CheckReply Compare(int input, int seed, int reference, TResult answer, TInput answered)
    {
        if (!_references.ContainsKey(input))
        {
            _references[input] = Answer(input, seed, reference);
        }

        return Difference(answer, answered, input, reference) ?? new CheckReply();
    }

    private (TResult Answer, TInput Input) Answer(int made, int seed, int variant)
    {
        var input = Make(made, seed);
        Whereabouts.Enter(WorkerPlace.Row, variant);
        var answer = parts.Rows[variant].Answer(input);
        return (answer, input);
    }

    // What a sequence throws when it is enumerated is the variant's own failure, not the comparison's.
    private static void Enumerate(TResult answer)
    {
        if (answer is IEnumerable sequence and not (ICollection or string))
        {
            foreach (var _ in sequence)
            {
            }
        }
    }

    private CheckReply? Difference(TResult answer, TInput input, int made, int referenceRow)
    {
        var (reference, changed) = _references[made];
        var name = parts.Rows[referenceRow].Description.Name;
        try
        {
            if (!parts.Rule.Agrees(reference, answer))
            {
                return new CheckReply { Failure = CellFailureKind.Disagrees,
                    Reason = AnswerText.Difference(reference, answer, parts.Rule, name) };
            }

            return parts.IsInputChanged && typeof(TResult) == typeof(NoAnswer) && AnswerEquality.IsComparable(changed)
                && !AnswerEquality.AreSame(changed, input)
                ? new CheckReply { Failure = CellFailureKind.Disagrees,
                    Reason = $"{AnswerText.Difference(changed, input, AnswerRule<TInput>.Exact, name)}, by what it made of its input" }
                : null;
        }
#pragma warning disable CA1031 // The rule may be the user's own.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            return new CheckReply { Failure = CellFailureKind.Threw, Reason = $"its agreement rule threw {ExceptionText.Of(exception)}" };
        }
    }

    private readonly record struct SittingSeeds(int Inputs, int Shuffle);
}
