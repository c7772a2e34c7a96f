namespace Tachyscope;

/// <summary>A study that has a name and needs inputs.</summary>
public sealed class StudyDraft
{
    private readonly string _name;

    internal StudyDraft(string name) => _name = name;

    /// <summary>Adds one input per size.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="axis">What the sizes count, such as "beacons".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of a size; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs<TInput>(string axis, IEnumerable<int> sizes, Func<int, TInput> make)
    {
        ArgumentNullException.ThrowIfNull(make);
        return Inputs(axis, sizes, (size, _) => make(size));
    }

    /// <summary>Adds one input per size, made from the seed of the run.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="axis">What the sizes count, such as "beacons".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of a size from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs<TInput>(string axis, IEnumerable<int> sizes, Func<int, int, TInput> make)
        => new StudyDraft<TInput>(_name, []).Inputs(axis, sizes, make);

    /// <summary>Adds one named input.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is, such as "already sorted"; unique in the study.</param>
    /// <param name="make">Makes the input; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input<TInput>(string label, Func<TInput> make)
        => new StudyDraft<TInput>(_name, []).Input(label, make);

    /// <summary>Adds one named input, made from the seed of the run.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="make">Makes the input from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input<TInput>(string label, Func<int, TInput> make)
        => new StudyDraft<TInput>(_name, []).Input(label, make);
}
