using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>Finds what is wrong with a definition; every mistake is one sentence with its way out.</summary>
internal static class StudyMistakes
{
    public static string Of(string study, string mistake) => $"study \"{study}\": {mistake}";

    public static IEnumerable<string> In(StudyDescription study)
        => Names(study).Concat(Inputs(study)).Concat(Baselines(study)).Select(mistake => Of(study.Name, mistake));

    public static IEnumerable<string> Among(IReadOnlyList<Study> studies)
    {
        if (studies.Count == 0)
        {
            yield return "the project has no study; hand at least one to Studies.RunAsync(args, …).";
        }

        foreach (var name in Repeated(studies.Select(study => study.Name)))
        {
            yield return $"two studies are named \"{name}\"; give each a name of its own.";
        }
    }

    private static IEnumerable<string> Names(StudyDescription study)
    {
        if (string.IsNullOrWhiteSpace(study.Name))
        {
            yield return "its name is empty; name what the operation does, as in Study.Of(\"nearest beacon\").";
        }

        if (study.Variants.Any(variant => string.IsNullOrWhiteSpace(variant.Name)))
        {
            yield return "a variant has an empty name; name how it does the operation.";
        }

        foreach (var name in Repeated(study.Variants.Select(variant => variant.Name)))
        {
            yield return $"two variants are named \"{name}\"; give each a name of its own.";
        }
    }

    private static IEnumerable<string> Inputs(StudyDescription study)
    {
        if (study.Inputs.Count == 0)
        {
            yield return "it has no inputs; list at least one size in .Inputs(…) or add one with .Input(…).";
        }

        foreach (var label in Repeated(study.Inputs.Select(input => input.Label)))
        {
            yield return $"two inputs are labelled \"{label}\"; list each size once and give each kind a label of its own.";
        }

        foreach (var input in study.Inputs.Where(input => input.Size < 0))
        {
            yield return $"the input size {input.Size} is below 0; sizes are 0 or more.";
        }
    }

    private static IEnumerable<string> Baselines(StudyDescription study)
    {
        var baselines = study.Variants.Where(variant => variant.IsBaseline).Select(variant => $"\"{variant.Name}\"").ToList();
        if (baselines.Count == 0)
        {
            yield return "it has no baseline; turn one .Variant(…) into .Baseline(…).";
        }
        else if (baselines.Count > 1)
        {
            yield return $"it has {baselines.Count} baselines ({string.Join(", ", baselines)}); keep one and turn the others into .Variant(…).";
        }
    }

    private static IEnumerable<string> Repeated(IEnumerable<string> names)
        => names.GroupBy(name => name, StringComparer.Ordinal).Where(group => group.Count() > 1).Select(group => group.Key);
}
