using System.Runtime.CompilerServices;
using Tachyscope.Operations;

namespace Tachyscope;

/// <summary>Variants without an answer, and variants that answer with spans.</summary>
public static class StudyDraftOfShapes
{
    /// <summary>Adds a variant that answers nothing.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="draft">The study.</param>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static StudyDraft<TInput, NoAnswer> Variant<TInput>(
        this StudyDraft<TInput, NoAnswer> draft, string name, Action<TInput> operation)
        => Checked(draft).With(name, operation, () => [Rows.Void(Rows.Named(name, isBaseline: false), operation)]);

    /// <summary>Adds a variant whose task is awaited in the timing and yields nothing.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="draft">The study.</param>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(2)]
    public static StudyDraft<TInput, NoAnswer> Variant<TInput>(
        this StudyDraft<TInput, NoAnswer> draft, string name, Func<TInput, Task> operation)
        => Checked(draft).With(name, operation, () => [Rows.Awaited(Rows.Named(name, isBaseline: false), operation)]);

    /// <summary>Adds a variant whose task is awaited in the timing and yields nothing.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <param name="draft">The study.</param>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [OverloadResolutionPriority(1)]
    public static StudyDraft<TInput, NoAnswer> Variant<TInput>(
        this StudyDraft<TInput, NoAnswer> draft, string name, Func<TInput, ValueTask> operation)
        => Checked(draft).With(name, operation, () => [Rows.Awaited(Rows.Named(name, isBaseline: false), operation)]);

    /// <summary>Adds a variant whose span is compared as an array.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <typeparam name="TItem">Type of the span's elements.</typeparam>
    /// <param name="draft">The study.</param>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static StudyDraft<TInput, TItem[]> Variant<TInput, TItem>(
        this StudyDraft<TInput, TItem[]> draft, string name, SpanOperation<TInput, TItem> operation)
        => Checked(draft).With(name, operation, () => [Rows.Span(Rows.Named(name, isBaseline: false), operation)]);

    /// <summary>Adds a variant whose span is compared as an array.</summary>
    /// <typeparam name="TInput">What the operation works on.</typeparam>
    /// <typeparam name="TItem">Type of the span's elements.</typeparam>
    /// <param name="draft">The study.</param>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static StudyDraft<TInput, TItem[]> Variant<TInput, TItem>(
        this StudyDraft<TInput, TItem[]> draft, string name, ReadOnlySpanOperation<TInput, TItem> operation)
        => Checked(draft).With(name, operation, () => [Rows.Span(Rows.Named(name, isBaseline: false), operation)]);

    private static StudyDraft<TInput, TResult> Checked<TInput, TResult>(StudyDraft<TInput, TResult> draft)
    {
        ArgumentNullException.ThrowIfNull(draft);
        return draft;
    }
}
