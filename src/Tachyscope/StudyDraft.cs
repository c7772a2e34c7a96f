namespace Tachyscope;

/// <summary>A study that has a name and needs inputs.</summary>
public sealed class StudyDraft
{
    private readonly StudyTitle _title;

    internal StudyDraft(StudyTitle title) => _title = title;

    /// <summary>Adds one input per size.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
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
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of a size from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs<TInput>(string axis, IEnumerable<int> sizes, Func<int, int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Inputs(axis, sizes, make);

    /// <summary>Adds one input for every pair of sizes along two axes.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="axis">What the first sizes count, such as "beacons".</param>
    /// <param name="sizes">The first sizes, each above or equal to 0.</param>
    /// <param name="otherAxis">What the second sizes count, such as "vessels".</param>
    /// <param name="otherSizes">The second sizes, each above or equal to 0.</param>
    /// <param name="make">Makes the input of two sizes; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Inputs<TInput>(
        string axis, IEnumerable<int> sizes, string otherAxis, IEnumerable<int> otherSizes, Func<int, int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Inputs(axis, sizes, otherAxis, otherSizes, make);

    /// <summary>Adds one named input.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is, such as "already sorted"; unique in the study.</param>
    /// <param name="make">Makes the input; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input<TInput>(string label, Func<TInput> make)
        => new StudyDraft<TInput>(_title, []).Input(label, make);

    /// <summary>Adds one named input, made from the seed of the run.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="make">Makes the input from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input<TInput>(string label, Func<int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Input(label, make);

    /// <summary>Adds one named input that also comes in the study's mix.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="weight">How often it comes in the mix, against the other weights, such as 95; above 0.</param>
    /// <param name="make">Makes the input; called outside the timing, and must make the same each time.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input<TInput>(string label, double weight, Func<TInput> make)
        => new StudyDraft<TInput>(_title, []).Input(label, weight, make);

    /// <summary>Adds one named input that also comes in the study's mix, made from the seed of the run.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is; unique in the study.</param>
    /// <param name="weight">How often it comes in the mix, against the other weights, such as 95; above 0.</param>
    /// <param name="make">Makes the input from a seed; the same seed must make the same input.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Input<TInput>(string label, double weight, Func<int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Input(label, weight, make);

    /// <summary>Adds an input of which there are many alike, for calls to take one after the other.</summary>
    /// <remarks>
    /// One object read again and again keeps the caches hot and teaches the branch predictor what it holds, which flatters branchy code and
    /// big tables. A pool is shown beside a single input of the same label, and where it changes who is faster, that is told.
    /// </remarks>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is; "64 × label" is the pool's own.</param>
    /// <param name="count">How many there are, two or more; together they have to fit into half of the memory.</param>
    /// <param name="make">Makes one from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pool<TInput>(string label, int count, Func<int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Pool(label, count, make);

    /// <summary>Adds one input per size, of each of which there are many alike, for calls to take one after the other.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="count">How many there are of each, two or more.</param>
    /// <param name="make">Makes one of a size from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pools<TInput>(string axis, IEnumerable<int> sizes, int count, Func<int, int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Pools(axis, sizes, count, make);

    /// <summary>Adds an input of which there are many alike, for calls to take one after the other.</summary>
    /// <remarks>
    /// One object read again and again keeps the caches hot and teaches the branch predictor what it holds, which flatters branchy code and
    /// big tables. A pool is shown beside a single input of the same label, and where it changes who is faster, that is told.
    /// </remarks>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="label">What kind of input it is; "64 × label" is the pool's own.</param>
    /// <param name="count">How many there are, two or more; together they have to fit into half of the memory.</param>
    /// <param name="order">In which order calls take them.</param>
    /// <param name="make">Makes one from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pool<TInput>(string label, int count, PoolOrder order, Func<int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Pool(label, count, order, make);

    /// <summary>Adds one input per size, of each of which there are many alike, for calls to take one after the other.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="axis">What the sizes count, such as "beacons", or the variable they are values of, such as "n".</param>
    /// <param name="sizes">The sizes, each above or equal to 0.</param>
    /// <param name="count">How many there are of each, two or more.</param>
    /// <param name="order">In which order calls take them.</param>
    /// <param name="make">Makes one of a size from its seed; other seeds must make others.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput> Pools<TInput>(string axis, IEnumerable<int> sizes, int count, PoolOrder order, Func<int, int, TInput> make)
        => new StudyDraft<TInput>(_title, []).Pools(axis, sizes, count, order, make);
}
