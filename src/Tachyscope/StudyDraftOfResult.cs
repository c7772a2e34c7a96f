using Tachyscope.Answers;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>A study that has variants; becomes a <see cref="Study"/> by assignment.</summary>
/// <typeparam name="TInput">What the operation works on.</typeparam>
/// <typeparam name="TResult">What the operation answers.</typeparam>
public sealed class StudyDraft<TInput, TResult>
{
    private readonly string _name;
    private readonly InputMaker<TInput>[] _inputs;
    private readonly VariantOperation<TInput, TResult>[] _variants;
    private readonly AnswerRule<TResult> _rule;

    internal StudyDraft(
        string name, InputMaker<TInput>[] inputs, VariantOperation<TInput, TResult>[] variants, AnswerRule<TResult> rule)
    {
        _name = name;
        _inputs = inputs;
        _variants = variants;
        _rule = rule;
    }

    /// <summary>Adds the variant the others are compared with; a study has exactly one.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation; a static method or a lambda that captures nothing is called directly.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Baseline(string name, Func<TInput, TResult> operation)
        => With(name, operation, isBaseline: true);

    /// <summary>Adds a variant.</summary>
    /// <param name="name">Its name, unique in the study.</param>
    /// <param name="operation">The operation; a static method or a lambda that captures nothing is called directly.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public StudyDraft<TInput, TResult> Variant(string name, Func<TInput, TResult> operation)
        => With(name, operation, isBaseline: false);

    /// <summary>Has numbers agree when they differ by no more than a tolerance.</summary>
    /// <param name="tolerance">
    /// Largest difference allowed, as a share of the larger of 1 and the two magnitudes; above or equal to 0.
    /// </param>
    public StudyDraft<TInput, TResult> Agree(double tolerance)
        => new(_name, _inputs, _variants, AnswerRule<TResult>.Within(tolerance));

    /// <summary>Has answers agree by a rule of your own.</summary>
    /// <param name="agrees">Given the baseline's answer and a variant's, whether they agree.</param>
    /// <exception cref="ArgumentNullException"><paramref name="agrees"/> is null.</exception>
    public StudyDraft<TInput, TResult> Agree(Func<TResult, TResult, bool> agrees)
    {
        ArgumentNullException.ThrowIfNull(agrees);
        return new(_name, _inputs, _variants, AnswerRule<TResult>.Own(agrees));
    }

    /// <summary>Completes the study.</summary>
    public Study ToStudy()
    {
        var description = new StudyDescription
        {
            Name = _name,
            Agreement = _rule.InWords,
            Inputs = [.. _inputs.Select(input => input.Description)],
            Variants = [.. _variants.Select(variant => variant.Description)],
        };
        var mistakes = StudyMistakes.In(description).Concat(_rule.Mistakes.Select(mistake => StudyMistakes.Of(_name, mistake)));
        return new Study(
            new StudyBody<TInput, TResult>(_inputs, _variants, _rule),
            description with { Mistakes = [.. mistakes] });
    }

    /// <summary>Completes the study.</summary>
    /// <param name="draft">The draft to complete.</param>
    public static implicit operator Study(StudyDraft<TInput, TResult> draft)
    {
        ArgumentNullException.ThrowIfNull(draft);
        return draft.ToStudy();
    }

    private StudyDraft<TInput, TResult> With(string name, Func<TInput, TResult> operation, bool isBaseline)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(operation);
        var variant = new VariantOperation<TInput, TResult>(name, operation, isBaseline);
        return new(_name, _inputs, [.. _variants, variant], _rule);
    }
}
