using System.Globalization;
using System.Text;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>Finds what is wrong with a definition; every mistake is one sentence with its way out.</summary>
internal static class StudyMistakes
{
    private const int MostThreads = 1_024;
    private const int MostOfPool = 1_000_000;

    public static string Of(string study, string mistake) => $"study \"{study}\": {mistake}";

    public static IEnumerable<string> In(StudyDescription study)
        => Names(study).Concat(Inputs(study)).Concat(Limits(study)).Concat(Rates(study)).Select(mistake => Of(study.Name, mistake));

    /// <summary>What is wrong with a dial of a variant.</summary>
    public static IEnumerable<string> In(string variant, Dial dial)
    {
        if (dial.Settings.Count == 0)
        {
            yield return $"the dial \"{dial.Name}\" of \"{variant}\" has no setting; list at least one, as in "
                + $"Dial.Over(\"{dial.Name}\", 4, 8, 16).";
        }

        foreach (var setting in dial.Settings.Where(setting => setting < 1).Distinct())
        {
            yield return $"the dial \"{dial.Name}\" of \"{variant}\" has the setting {setting}; settings are 1 or more.";
        }

        foreach (var setting in dial.Settings.GroupBy(setting => setting).Where(group => group.Count() > 1))
        {
            yield return $"the dial \"{dial.Name}\" of \"{variant}\" has the setting {setting.Key} twice; list each once.";
        }
    }

    /// <summary>What of a study's parts does not go together.</summary>
    public static IEnumerable<string> InParts<TInput, TResult>(StudyParts<TInput, TResult> parts)
    {
        foreach (var count in parts.ThreadCounts.Where(count => count is < 1 or > MostThreads).Distinct())
        {
            yield return $"it asks for {count} threads; ask for 1 to {MostThreads}, as in .Threads(1, 2, 4).";
        }

        if (parts.ThreadCounts.Distinct().Count() < parts.ThreadCounts.Length)
        {
            yield return "it asks for the same number of threads twice; list each once in .Threads(…).";
        }

        var (isMixed, isPooled) = (parts.Inputs.Any(input => input.Description.IsMix),
            parts.Inputs.Any(input => input.Description.Pool is not null));
        if (parts.ThreadCounts.Length > 0 && (parts.IsInputChanged || parts.Rows.Any(row => row.Description.Loop.Path == CallPath.Awaited)))
        {
            yield return "it calls from several threads operations that change their input or are awaited; leave out .Threads(…), or "
                + "those operations.";
        }

        if (isMixed && parts.IsInputChanged)
        {
            yield return "it mixes inputs that its variants change; leave out the weights or .ChangesInput().";
        }

        foreach (var row in parts.Rows.Where(row => parts.IsInputChanged && !row.TakesEachInput))
        {
            yield return $"\"{row.Description.Variant}\" prepares something of one input and is called with others; give it a prepare "
                + "that takes no input, as in prepare: () => ….";
        }

        foreach (var input in parts.Inputs.Where(input => input.Description.Pool is < 2 or > MostOfPool))
        {
            yield return FormattableString.Invariant($"the pool \"{input.Description.Label}\" has {input.Description.Pool} inputs; ")
                + FormattableString.Invariant($"give it 2 to {MostOfPool:N0}, or add a single one with .Input(…).");
        }

        if (isPooled && parts.IsInputChanged)
        {
            yield return "it has a pool of inputs that its variants change, of which every call gets a fresh one as it is; "
                + "leave out .Pool(…) or .ChangesInput().";
        }

        foreach (var mistake in parts.Rows.Any(row => row.Description.Guest is not null) ? OfGuests(parts, isMixed, isPooled) : [])
        {
            yield return mistake;
        }

        if (typeof(Task).IsAssignableFrom(typeof(TResult)) || typeof(TResult) == typeof(ValueTask)
            || (typeof(TResult).IsGenericType && typeof(TResult).GetGenericTypeDefinition() == typeof(ValueTask<>)))
        {
            yield return "its variants answer a task that nothing awaits; give them as they are, not through a variable of type "
                + "Func<…>, or await inside.";
        }
    }

    private static IEnumerable<string> OfGuests<TInput, TResult>(
        StudyParts<TInput, TResult> parts, bool isMixed, bool isPooled)
    {
        if (parts.ThreadCounts.Length > 0)
        {
            yield return "it calls guests from several threads; leave out .Threads(…) or .Guest(…).";
        }

        if (parts.IsInputChanged)
        {
            yield return "its variants change their input, and a guest gets one for all its calls; "
                + "let every variant work on a copy of its own, or leave out .Guest(…).";
        }

        if (typeof(TResult) == typeof(NoAnswer))
        {
            yield return "its variants answer nothing that a guest's answer could be compared with; let them return what they made.";
        }

        if (isMixed)
        {
            yield return "it mixes inputs, and a guest is called on one at a time; leave out the weights or .Guest(…).";
        }

        if (isPooled)
        {
            yield return "it has a pool of inputs, and a guest is called on one at a time; leave out .Pool(…) or .Guest(…).";
        }
    }

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

        var named = study.Variants.Select(variant => (What: "variant", variant.Name))
            .Concat(study.Inputs.Select(input => (What: "input", Name: input.Label)));
        foreach (var (what, name) in named.Prepend(("study", study.Name)).Where(named => Unwritable(named.Name) is not null).Distinct())
        {
            yield return $"the name of a {what} holds {Unwritable(name)}, which cannot be written or shown; leave it out of "
                + $"\"{Written(name)}\".";
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

        foreach (var size in study.Inputs.SelectMany(input => input.Sizes).Where(size => size.Value < 0).Distinct())
        {
            yield return $"the input size {size.Value} is below 0; sizes are 0 or more.";
        }

        foreach (var input in study.Inputs.Where(input => input.Weight is { } weight && !(weight > 0 && double.IsFinite(weight))))
        {
            yield return string.Create(CultureInfo.InvariantCulture, $"the weight {input.Weight} of input \"{input.Label}\" is not a "
                + $"number above 0; give one such as 95.");
        }
    }

    private static IEnumerable<string> Limits(StudyDescription study)
    {
        foreach (var limit in study.Limits)
        {
            if (limit is { Nanoseconds: null, ProcessorNanoseconds: null, AllocatedBytes: null })
            {
                yield return "a limit allows anything; give it nanoseconds, processorNanoseconds or bytes, as in .Limit(nanoseconds: 400).";
            }

            foreach (var time in ((double?[])[limit.Nanoseconds, limit.ProcessorNanoseconds])
                .Where(time => time is { } known && !(known > 0 && double.IsFinite(known))))
            {
                yield return string.Create(CultureInfo.InvariantCulture, $"a limit allows {time} ns; allow a number above 0, as in "
                    + $".Limit(nanoseconds: 400).");
            }

            if (limit.AllocatedBytes is { } bytes && !(bytes >= 0 && double.IsFinite(bytes)))
            {
                yield return FormattableString.Invariant($"a limit allows {bytes} bytes; allow 0 or more, as in .Limit(bytes: 0).");
            }

            if (limit.Variant is { } of && study.Variants.All(variant => variant.Variant != of && variant.Name != of))
            {
                yield return $"a limit is of \"{of}\", which is no variant; the variants are "
                    + $"{Quoted(study.Variants.Select(variant => variant.Variant))}.";
            }

            if (limit.Input is { } on && study.Inputs.All(input => input.Label != on))
            {
                yield return $"a limit is on \"{on}\", which is no input; the inputs are "
                    + $"{Quoted(study.Inputs.Select(input => input.Label))}.";
            }
        }
    }

    private static IEnumerable<string> Rates(StudyDescription study)
    {
        if (study.Rate is { } rate && !(rate.CallsPerSecond > 0 && double.IsFinite(rate.CallsPerSecond) && rate.Callers > 0))
        {
            yield return string.Create(CultureInfo.InvariantCulture, $"it is called {rate.CallsPerSecond} times a second by "
                + $"{rate.Callers}; give numbers above 0, as in .Called(2_000, per: TimeSpan.FromSeconds(1), by: 12).");
        }
    }

    // A surrogate without its other half is read as the sign for what is no character.
    private static string? Unwritable(string name)
    {
        foreach (var rune in name.EnumerateRunes())
        {
            if (rune == Rune.ReplacementChar)
            {
                return "half a character (a lone surrogate)";
            }

            if (!ProtocolText.IsVisible(rune))
            {
                return FormattableString.Invariant($"the character U+{rune.Value:X4}");
            }
        }

        return null;
    }

    private static string Written(string name)
        => string.Concat(name.EnumerateRunes().Where(rune => rune != Rune.ReplacementChar && ProtocolText.IsVisible(rune)));

    private static string Quoted(IEnumerable<string> names) => string.Join(", ", names.Distinct().Select(name => $"\"{name}\""));

    private static IEnumerable<string> Repeated(IEnumerable<string> names)
        => names.GroupBy(name => name, StringComparer.Ordinal).Where(group => group.Count() > 1).Select(group => group.Key);
}
