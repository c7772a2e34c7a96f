using Tachyscope.Answers;
using Tachyscope.Operations;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>Name of a study, and its place in a family.</summary>
internal sealed record StudyTitle(string Name, string? Family = null, string? Element = null);

/// <summary>All that a study is made of, while it is being defined.</summary>
internal sealed record StudyParts<TInput, TResult>
{
    public required StudyTitle Title { get; init; }

    public required InputMaker<TInput>[] Inputs { get; init; }

    public VariantOperation<TInput, TResult>[] Rows { get; init; } = [];

    public AnswerRule<TResult> Rule { get; init; } = AnswerRule<TResult>.Exact;

    public int[] ThreadCounts { get; init; } = [];

    public bool IsInputChanged { get; init; }

    public Action<TInput>? Reset { get; init; }

    public Func<TInput, WorkPerCall>? Work { get; init; }

    public LimitDescription[] Limits { get; init; } = [];

    public CallRate? Rate { get; init; }

    public string[] Mistakes { get; init; } = [];
}
