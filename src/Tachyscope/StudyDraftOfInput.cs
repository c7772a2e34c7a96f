using System.Globalization;
using System.Runtime.CompilerServices;
using Tachyscope.Operations;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>A study that has inputs and needs its baseline.</summary>
/// <typeparam name="TInput">What the operation works on.</typeparam>
/// <remarks>
/// The baseline settles what the operation answers. A task is awaited and a sequence that may be evaluated only when it is
/// enumerated is enumerated, both inside the timing.
/// </remarks>
public sealed class StudyDraft<TInput>
{
    private readonly StudyTitle _title;
    private readonly InputMaker<TInput>[] _inputs;

    internal StudyDraft(StudyTitle title, InputMaker<TInput>[] inputs)
    {
        _title = title;
        _inputs = inputs;
    }

    /// <summary>Adds one input per size, made from the seed of the run.</summary>
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of a size from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs(string axis, IEnumerable<int> sizes, Func<int, int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(axis);
        ArgumentNullException.ThrowIfNull(sizes);
        ArgumentNullException.ThrowIfNull(make);
        return With(sizes.Select(size => Sized([new(axis, size)], seed => make(size, seed))));
    }

    /// <summary>Adds one input for every pair of sizes along two axes.</summary>
    /// <param name="axis">What the first sizes count, such as "beacons".</param>
    /// <param name="sizes">The first sizes, each above or equal to 0.</param>
    /// <param name="otherAxis">What the second sizes count, such as "vessels".</param>
    /// <param name="otherSizes">The second sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of two sizes; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs(
        string axis, IEnumerable<int> sizes, string otherAxis, IEnumerable<int> otherSizes, Func<int, int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(axis);
        ArgumentNullException.ThrowIfNull(sizes);
        ArgumentNullException.ThrowIfNull(otherAxis);
        ArgumentNullException.ThrowIfNull(otherSizes);
        ArgumentNullException.ThrowIfNull(make);
        var others = otherSizes.ToArray();
        return With(
            from size in sizes
            from other in others
            select Sized([new(axis, size), new(otherAxis, other)], _ => make(size, other)));
    }

    /// <summary>Adds one named input.</summary>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="make">Makes the input; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input(string label, Func<TInput> make)
    {
        ArgumentNullException.ThrowIfNull(make);
        return Input(label, _ => make());
    }

    /// <summary>Adds one named input, made from the seed of the run.</summary>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="make">Makes the input from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input(string label, Func<int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(label);
        ArgumentNullException.ThrowIfNull(make);
        return With([new InputMaker<TInput>(new InputDescription { Label = label }, make)]);
    }

    /// <summary>Adds one named input that also comes in the study's mix.</summary>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="weight">How often it comes in the mix, against the other weights, such as 95; above 0.</param>
    /// <param name="make">Makes the input; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input(string label, double weight, Func<TInput> make)
    {
        ArgumentNullException.ThrowIfNull(make);
        return Input(label, weight, _ => make());
    }

    /// <summary>Adds one named input that also comes in the study's mix, made from the seed of the run.</summary>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="weight">How often it comes in the mix, against the other weights, such as 95; above 0.</param>
    /// <param name="make">Makes the input from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input(string label, double weight, Func<int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(label);
        ArgumentNullException.ThrowIfNull(make);
        return With([new InputMaker<TInput>(new InputDescription { Label = label, Weight = weight }, make)]);
    }

    /// <summary>Adds an input of which there are many alike, for calls to take one after the other.</summary>
    /// <remarks>
    /// One object read again and again keeps the caches hot and teaches the branch predictor what it holds, which flatters branchy code and
    /// big tables. A pool is shown beside a single input of the same label, and where it changes who is faster, that is told.
    /// </remarks>
    /// <param name="label">What kind of input it is; "64 × label" is the pool's own.</param>
    /// <param name="count">How many there are, two or more; together they have to fit into half of the memory.</param>
    /// <param name="make">Makes one from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pool(string label, int count, Func<int, TInput> make)
        => Pool(label, count, PoolOrder.Shuffled, make);

    /// <summary>Adds one input per size, of each of which there are many alike, for calls to take one after the other.</summary>
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="count">How many there are of each, two or more.</param>
    /// <param name="make">Makes one of a size from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pools(string axis, IEnumerable<int> sizes, int count, Func<int, int, TInput> make)
        => Pools(axis, sizes, count, PoolOrder.Shuffled, make);

    /// <summary>Adds an input of which there are many alike, for calls to take one after the other.</summary>
    /// <remarks>
    /// One object read again and again keeps the caches hot and teaches the branch predictor what it holds, which flatters branchy code and
    /// big tables. A pool is shown beside a single input of the same label, and where it changes who is faster, that is told.
    /// </remarks>
    /// <param name="label">What kind of input it is; "64 × label" is the pool's own.</param>
    /// <param name="count">How many there are, two or more; together they have to fit into half of the memory.</param>
    /// <param name="order">In which order calls take them.</param>
    /// <param name="make">Makes one from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pool(string label, int count, PoolOrder order, Func<int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(label);
        ArgumentNullException.ThrowIfNull(make);
        return With([Pooled(new InputMaker<TInput>(new InputDescription { Label = label }, make), count, order)]);
    }

    /// <summary>Adds one input per size, of each of which there are many alike, for calls to take one after the other.</summary>
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="count">How many there are of each, two or more.</param>
    /// <param name="order">In which order calls take them.</param>
    /// <param name="make">Makes one of a size from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pools(string axis, IEnumerable<int> sizes, int count, PoolOrder order, Func<int, int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(axis);
        ArgumentNullException.ThrowIfNull(sizes);
        ArgumentNullException.ThrowIfNull(make);
        return With(sizes.Select(size => Pooled(Sized([new(axis, size)], seed => make(size, seed)), count, order)));
    }

    /// <summary>Adds the variant the others are compared with.</summary>
    /// <typeparam name="TResult">What the operation answers; the same for every variant.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation; a static method or a lambda is called directly.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Baseline<TResult>(string name, Func<TInput, TResult> operation)
        => From(name, operation, row => Rows.Plain(row, operation));

    /// <summary>Adds the baseline of a study whose answers are sequences; they are enumerated in the timing.</summary>
    /// <typeparam name="TItem">What the sequences hold.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, IEnumerable<TItem>> Baseline<TItem>(string name, Func<TInput, IEnumerable<TItem>> operation)
        => From(name, operation, row => Rows.Enumerated(row, operation));

    /// <summary>Adds the baseline of a study whose operations answer nothing.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, NoAnswer> Baseline(string name, Action<TInput> operation)
        => From(name, operation, row => Rows.Void(row, operation));

    /// <summary>Adds the baseline of a study; its task is awaited in the timing.</summary>
    /// <typeparam name="TResult">What the task yields.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(2)]
    public StudyDraft<TInput, TResult> Baseline<TResult>(string name, Func<TInput, Task<TResult>> operation)
        => From(name, operation, row => Rows.Awaited(row, operation));

    /// <summary>Adds the baseline of a study; its task is awaited in the timing.</summary>
    /// <typeparam name="TResult">What the task yields.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(1)]
    public StudyDraft<TInput, TResult> Baseline<TResult>(string name, Func<TInput, ValueTask<TResult>> operation)
        => From(name, operation, row => Rows.Awaited(row, operation));

    /// <summary>Adds the baseline of a study whose tasks yield nothing; they are awaited in the timing.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(2)]
    public StudyDraft<TInput, NoAnswer> Baseline(string name, Func<TInput, Task> operation)
        => From(name, operation, row => Rows.Awaited(row, operation));

    /// <summary>Adds the baseline of a study whose tasks yield nothing; they are awaited in the timing.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(1)]
    public StudyDraft<TInput, NoAnswer> Baseline(string name, Func<TInput, ValueTask> operation)
        => From(name, operation, row => Rows.Awaited(row, operation));

    /// <summary>Adds the baseline of a study; its span is compared as an array.</summary>
    /// <typeparam name="TItem">Type of the span's elements.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TItem[]> Baseline<TItem>(string name, SpanOperation<TInput, TItem> operation)
        => From(name, operation, row => Rows.Span(row, operation));

    /// <summary>Adds the baseline of a study; its span is compared as an array.</summary>
    /// <typeparam name="TItem">Type of the span's elements.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TItem[]> Baseline<TItem>(string name, ReadOnlySpanOperation<TInput, TItem> operation)
        => From(name, operation, row => Rows.Span(row, operation));

    /// <summary>Adds a baseline that prepares something of its input once and uses it often; both are measured apart.</summary>
    /// <typeparam name="TPrepared">What is prepared.</typeparam>
    /// <typeparam name="TResult">What the operation answers; the same for every variant.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="prepare">What is done once.</param>
    /// <param name="use">What is done each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Baseline<TPrepared, TResult>(
        string name, Func<TInput, TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
        => FromPrepared(name, prepare, use, () => Rows.Prepared(name, isBaseline: true, prepare, use));

    /// <summary>Adds a baseline that prepares something once, whatever the input, and uses it often; both are measured apart.</summary>
    /// <typeparam name="TPrepared">What is prepared.</typeparam>
    /// <typeparam name="TResult">What the operation answers; the same for every variant.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="prepare">What is done once.</param>
    /// <param name="use">What is done each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Baseline<TPrepared, TResult>(
        string name, Func<TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
        => FromPrepared(name, prepare, use, () => Rows.Prepared(name, isBaseline: true, prepare, use));

    private static InputMaker<TInput> Sized(InputSize[] sizes, Func<int, TInput> make)
        => new(new InputDescription { Label = string.Join(", ", sizes.Select(size => size.ToString())), Sizes = sizes }, make);

    private static InputMaker<TInput> Pooled(InputMaker<TInput> one, int count, PoolOrder order) => one with
    {
        Description = one.Description with
        {
            Label = string.Create(CultureInfo.InvariantCulture, $"{count:N0} × {one.Description.Label}"), Pool = count,
            IsPoolInTurn = order == PoolOrder.InTurn,
        },
    };

    private StudyDraft<TInput> With(IEnumerable<InputMaker<TInput>> inputs) => new(_title, [.. _inputs, .. inputs]);

    private StudyDraft<TInput, TResult> From<TResult>(
        string name, Delegate operation, Func<VariantDescription, VariantOperation<TInput, TResult>> make)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(operation);
        return new(new() { Title = _title, Inputs = _inputs, Rows = [make(Rows.Named(name, isBaseline: true))] });
    }

    private StudyDraft<TInput, TResult> FromPrepared<TResult>(
        string name, Delegate prepare, Delegate use, Func<IEnumerable<VariantOperation<TInput, TResult>>> make)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(prepare);
        ArgumentNullException.ThrowIfNull(use);
        return new(new() { Title = _title, Inputs = _inputs, Rows = [.. make()] });
    }
}
