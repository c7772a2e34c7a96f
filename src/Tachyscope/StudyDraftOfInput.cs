using System.Globalization;
using Tachyscope.Answers;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>A study that has inputs and needs variants.</summary>
/// <typeparam name="TInput">What the operation works on.</typeparam>
public sealed class StudyDraft<TInput>
{
    private readonly string _name;
    private readonly InputMaker<TInput>[] _inputs;

    internal StudyDraft(string name, InputMaker<TInput>[] inputs)
    {
        _name = name;
        _inputs = inputs;
    }

    /// <summary>Adds one input per size, made from the seed of the run.</summary>
    /// <param name="axis">What the sizes count, such as "beacons".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of a size from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs(string axis, IEnumerable<int> sizes, Func<int, int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(axis);
        ArgumentNullException.ThrowIfNull(sizes);
        ArgumentNullException.ThrowIfNull(make);
        var added = sizes.Select(size => new InputMaker<TInput>(
            new InputDescription { Axis = axis, Label = Label(size, axis), Size = size },
            seed => make(size, seed)));
        return new StudyDraft<TInput>(_name, [.. _inputs, .. added]);
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
        return new StudyDraft<TInput>(_name, [.. _inputs, new InputMaker<TInput>(new InputDescription { Label = label }, make)]);
    }

    /// <summary>Adds the variant the others are compared with.</summary>
    /// <typeparam name="TResult">What the operation answers; the same for every variant.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation; a static method or a lambda that captures nothing is called directly.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Baseline<TResult>(string name, Func<TInput, TResult> operation)
        => new StudyDraft<TInput, TResult>(_name, _inputs, [], AnswerRule<TResult>.Exact).Baseline(name, operation);

    /// <summary>Adds a variant.</summary>
    /// <typeparam name="TResult">What the operation answers; the same for every variant.</typeparam>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation; a static method or a lambda that captures nothing is called directly.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant<TResult>(string name, Func<TInput, TResult> operation)
        => new StudyDraft<TInput, TResult>(_name, _inputs, [], AnswerRule<TResult>.Exact).Variant(name, operation);

    private static string Label(int size, string axis)
        => string.Create(CultureInfo.InvariantCulture, $"{size:N0} {axis}");
}
