using System.Diagnostics.CodeAnalysis;
using System.Reflection;
using System.Runtime.CompilerServices;
using Tachyscope.Operations;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>Puts a study together from its parts: its rows on every number of threads, its inputs and their mix.</summary>
internal static class StudyAssembly
{
    public static Study Of<TInput, TResult>(StudyParts<TInput, TResult> parts)
    {
        var whole = parts with { Rows = OnThreads(parts), Inputs = WithMix(parts.Inputs) };
        var description = new StudyDescription
        {
            Name = whole.Title.Name,
            Family = whole.Title.Family,
            Element = whole.Title.Element,
            Agreement = whole.Rule.InWords,
            Tolerance = whole.Rule.Tolerance,
            IsInputChanged = whole.IsInputChanged,
            Inputs = [.. whole.Inputs.Select(input => input.Description)],
            Variants = [.. whole.Rows.Select(row => row.Description with { Method = PlaceOf(row.Method) })],
            Limits = whole.Limits,
            Rate = whole.Rate,
        };
        var mistakes = StudyMistakes.In(description)
            .Concat(parts.Mistakes.Concat(StudyMistakes.InParts(whole)).Concat(whole.Rule.Mistakes)
                .Select(mistake => StudyMistakes.Of(description.Name, mistake)));
        return new Study(new StudyBody<TInput, TResult>(whole), description with { Mistakes = [.. mistakes] });
    }

    // Code compiled ahead of time has neither a file nor tokens.
    [UnconditionalSuppressMessage("SingleFile", "IL3002",
        Justification = "A module without a file names none that exists, and is told as none.")]
    private static MethodPlace? PlaceOf(MethodInfo? method)
        => method is not null && RuntimeFeature.IsDynamicCodeSupported && File.Exists(method.Module.FullyQualifiedName)
            ? new MethodPlace { Assembly = method.Module.FullyQualifiedName, Token = method.MetadataToken }
            : null;

    // What is prepared once is prepared by one thread.
    private static VariantOperation<TInput, TResult>[] OnThreads<TInput, TResult>(StudyParts<TInput, TResult> parts)
        => parts.ThreadCounts.Length == 0
            ? parts.Rows
            : [.. from row in parts.Rows
              from threads in parts.ThreadCounts
              where row.Description.Part != VariantPart.Prepare || threads == parts.ThreadCounts[0]
              select row.With(row.Description.Part == VariantPart.Prepare ? row.Description : row.Description with
              {
                  Name = $"{row.Description.Name}, {threads} thread{(threads == 1 ? "" : "s")}",
                  Loop = row.Description.Loop with { Threads = threads },
              })];

    private static InputMaker<TInput>[] WithMix<TInput>(InputMaker<TInput>[] inputs)
    {
        var weighted = inputs.Where(input => input.Description.Weight is not null).ToList();
        if (weighted.Count == 0)
        {
            return inputs;
        }

        var sum = weighted.Sum(input => input.Description.Weight!.Value);
        var shares = weighted.Select(input
            => FormattableString.Invariant($"{100 * input.Description.Weight!.Value / sum:0.#} % {input.Description.Label}"));
        var mix = new InputDescription { Label = $"mix of {string.Join(", ", shares)}", IsMix = true };
        return [.. inputs, new InputMaker<TInput>(mix, weighted[0].Make)];
    }
}
