namespace Tachyscope;

/// <summary>An operation that answers with a read-only span.</summary>
/// <typeparam name="TInput">What it works on.</typeparam>
/// <typeparam name="TItem">Type of the span's elements.</typeparam>
/// <param name="input">The input.</param>
public delegate ReadOnlySpan<TItem> ReadOnlySpanOperation<in TInput, TItem>(TInput input);
