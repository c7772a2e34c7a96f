using System.Text.RegularExpressions;
using Tachyscope.Lab.Building;

namespace Tachyscope.Lab.Targets;

/// <summary>Reads targets from their recipes: comma-separated parts such as "runtime=net8.0,switch:TieredPGO=0".</summary>
/// <remarks>
/// A part may be given as alternatives, "runtime=net8.0|net9.0", and stands for a target with each; several such parts stand
/// for every combination. A value in double quotes may hold commas and bars. A single word is a target's name in
/// tachyscope.json, and a runtime by itself is short for "runtime=".
/// </remarks>
public static partial class TargetParser
{
    private const int MostTargets = 64;

    private static readonly string[] Instructions = ["x86-64-v2", "x86-64-v3", "x86-64-v4"];

    private static readonly TargetPart[] Parts =
    [
        new("runtime", "runtime=net8.0", ["net8.0", "net9.0", "net10.0"], (target, _, value) => IsRuntime(value)
            ? target with { Runtime = value }
            : null),
        new("framework", "framework=net8.0", ["net8.0", "net9.0", "net10.0"], (target, _, value) => RuntimeLine().IsMatch(value)
            ? target with { Framework = value }
            : null),
        new("aot", "aot", [], (target, _, _) => target with { IsAheadOfTime = true }),
        new("instructions", "instructions=x86-64-v3", Instructions, (target, _, value) => target with { Instructions = value }),
        new("ready-to-run", "ready-to-run", [], (target, _, _) => target with { IsReadyToRun = true }),
        new("trimmed", "trimmed", [], (target, _, _) => target with { IsTrimmed = true }),
        new("switch:", "switch:TieredPGO=0", [],
            (target, name, value)
                => target with { Switches = With(target.Switches, name.StartsWith("DOTNET_", StringComparison.Ordinal)
                    ? name[7..]
                    : name, value) }),
        new("lang", "lang=13", [], (target, _, value) => LanguageVersion().IsMatch(value) ? target with { Language = value } : null),
        new("compiler", "compiler=4.14.0", [], (target, _, value) => ExactVersion().IsMatch(value)
            ? target with { Compiler = value }
            : null),
        new("optimize", "optimize=off", ["on", "off"], (target, _, value) => value is "on" or "off"
            ? target with { IsOptimized = value == "on" }
            : null),
        new("define", "define=SYMBOL", [], (target, _, value) => Symbol().IsMatch(value)
            ? target with { Defines = [.. target.Defines, value] }
            : null),
        new("property:", "property:NAME=VALUE", [], (target, name, value) => Symbol().IsMatch(name)
            ? target with { Properties = With(target.Properties, name, value) }
            : null),
        new("package:", "package:NAME=VERSION", [], (target, name, value) => target with { Packages = With(target.Packages, name, value) }),
        new("rev", "rev=REVISION", [], (target, _, value) => target with { Revision = value }),
        new("study", "study=now", [Revisions.Now], (target, _, value) => target with { Study = value }),
        new("dir", "dir=FOLDER", [], (target, _, value) => target with { Folder = value }),
        new("name", "name=LABEL", [], (target, _, value) => target with { Name = value }),
    ];

    /// <summary>How every part is written.</summary>
    public static IReadOnlyList<string> Forms { get; } = [.. Parts.Select(part => part.Form)];

    /// <summary>Reads the targets of a command line.</summary>
    /// <param name="recipes">The recipes, in order.</param>
    /// <param name="named">Recipes by name, from tachyscope.json.</param>
    /// <returns>The targets, and everything that is wrong with any of them.</returns>
    public static TargetSet Parse(IReadOnlyList<string> recipes, IReadOnlyDictionary<string, string> named)
    {
        ArgumentNullException.ThrowIfNull(recipes);
        ArgumentNullException.ThrowIfNull(named);
        var mistakes = new List<string>();
        var targets = new List<Target>();
        foreach (var recipe in recipes)
        {
            var (label, written) = named.TryGetValue(recipe.Trim(), out var found) ? (recipe.Trim(), found) : (null, recipe);
            foreach (var parts in Combinations(written))
            {
                targets.Add(Read(label, written, parts, named, mistakes));
            }
        }

        mistakes.AddRange(targets.GroupBy(target => target.Name).Where(group => group.Count() > 1)
            .Select(group => $"two targets are called \"{group.Key}\"; give one of them another name, as in {group.Key},name=again."));
        if (targets.Count > MostTargets)
        {
            mistakes.Add(FormattableString.Invariant($"{targets.Count} targets are more than {MostTargets}; ask for fewer alternatives."));
        }

        return new TargetSet(targets, [.. mistakes.Distinct()]);
    }

    /// <summary>Whether a word is meant as a recipe: a part with a value, a runtime or a word that stands for itself.</summary>
    /// <param name="word">The word.</param>
    public static bool IsRecipe(string word)
    {
        ArgumentNullException.ThrowIfNull(word);
        return word.Contains('=', StringComparison.Ordinal)
            || Pieces(word, ',').SelectMany(part => Pieces(part, '|'))
                .All(part => IsRuntime(part) || Array.Exists(Parts, known => known.IsFlag && known.Key == part));
    }

    /// <summary>What may follow a recipe that is still being written.</summary>
    /// <param name="recipe">The recipe so far.</param>
    /// <param name="named">Recipes by name, from tachyscope.json.</param>
    public static IReadOnlyList<string> Complete(string recipe, IReadOnlyDictionary<string, string> named)
    {
        ArgumentNullException.ThrowIfNull(recipe);
        ArgumentNullException.ThrowIfNull(named);
        var begin = recipe.LastIndexOf(',') + 1;
        var (before, last) = (recipe[..begin], recipe[begin..]);
        var value = last.IndexOf('=', StringComparison.Ordinal);
        var offered = value >= 0
            ? Parts.Where(part => part.Key == last[..value]).SelectMany(part => part.Values)
                .Select(known => $"{last[..(value + 1)]}{known}")
            : Parts.Select(part => part.IsFlag || part.IsNaming ? part.Key : $"{part.Key}=")
                .Concat(before.Length == 0 ? Parts[0].Values.Concat(named.Keys) : []);
        return [.. offered.Where(word => word.StartsWith(last, StringComparison.OrdinalIgnoreCase)).Select(word => before + word)];
    }

    private static Target Read(string? label, string recipe, IReadOnlyList<string> parts, IReadOnlyDictionary<string, string> named,
        List<string> mistakes)
    {
        var written = string.Join(',', parts);
        var target = new Target { Name = label is not null && written == recipe ? label : written };
        var seen = new HashSet<string>();
        foreach (var part in parts)
        {
            var (kind, name, value) = Split(part);
            if (kind is null)
            {
                mistakes.Add($"--target {written}: \"{part}\" is no part of a target{Meant(part)}; parts are "
                    + $"{string.Join(", ", Forms)}{Names(named)}.");
            }
            else if (kind.IsFlag != (value is null) || value?.Length == 0 || (kind.IsNaming && name.Length == 0))
            {
                mistakes.Add($"--target {written}: \"{part}\" is written {kind.Form}.");
            }
            else if (!seen.Add(kind.IsRepeatable ? $"{kind.Key}{value}" : $"{kind.Key}{name}"))
            {
                mistakes.Add($"--target {written}: {kind.Key.TrimEnd(':')}{(name.Length > 0 ? $" {name}" : "")} is given twice; give it "
                    + $"once, or as alternatives such as {kind.Form}|….");
            }
            else if (kind.Apply(target, name, value ?? "") is { } applied)
            {
                target = applied;
            }
            else
            {
                mistakes.Add($"--target {written}: \"{value}\" is no "
                    + $"{kind.Key.TrimEnd(':')}{(kind.Values.Count > 0 ? $"; there are {string.Join(", ", kind.Values)}" : "")}; it is "
                    + $"written as in {kind.Form}.");
            }
        }

        mistakes.AddRange(Contradictions(target).Select(contradiction => $"--target {written}: {contradiction}"));
        return target;
    }

    private static IEnumerable<string> Contradictions(Target target)
    {
        if (target is { Revision: not null, Folder: not null })
        {
            yield return "rev= takes another revision of the project's own folder and dir= another folder; leave one out.";
        }

        if (target is { Revision: null, Study: not null })
        {
            yield return "study= lays the study of another revision over the one taken with rev=; add rev=, or leave it out.";
        }

        if (target is { IsAheadOfTime: true, IsReadyToRun: true })
        {
            yield return "aot compiles everything ahead and ready-to-run a part of it; leave one out.";
        }

        if (target is { IsAheadOfTime: false, Instructions: not null })
        {
            yield return "instructions= is for what is compiled ahead of time; add aot, or leave it out.";
        }

        foreach (var name in target.Switches.Keys.Where(name => target.IsAheadOfTime && IsOfCompiler(name)))
        {
            yield return $"switch:{name} is for the just-in-time compiler, which aot does without; leave one out.";
        }
    }

    private static bool IsOfCompiler(string name)
        => name.StartsWith("Tiered", StringComparison.OrdinalIgnoreCase) || name.StartsWith("TC_", StringComparison.OrdinalIgnoreCase)
            || name.StartsWith("Jit", StringComparison.OrdinalIgnoreCase);

    private static (TargetPart? Kind, string Name, string? Value) Split(string part)
    {
        if (IsRuntime(part))
        {
            return (Parts[0], "", part);
        }

        var equals = part.IndexOf('=', StringComparison.Ordinal);
        var (key, value) = equals < 0 ? (part, null) : (part[..equals], Unquoted(part[(equals + 1)..]));
        var colon = key.IndexOf(':', StringComparison.Ordinal);
        var (head, name) = colon < 0 ? (key, "") : (key[..(colon + 1)], key[(colon + 1)..]);
        return (Array.Find(Parts, known => known.Key == head), name, value);
    }

    // Alternatives of every part, each with each.
    private static List<List<string>> Combinations(string recipe)
    {
        List<List<string>> combinations = [[]];
        foreach (var part in Pieces(recipe, ','))
        {
            var alternatives = Pieces(part, '|').ToList();
            var equals = alternatives[0].IndexOf('=', StringComparison.Ordinal);
            var key = equals < 0 ? "" : alternatives[0][..(equals + 1)];
            List<string> written = [alternatives[0], .. alternatives.Skip(1)
                .Select(other => other.Contains('=', StringComparison.Ordinal) ? other : key + other)];
            combinations = [.. from combination in combinations from alternative in written select (List<string>)[.. combination,
                alternative]];
        }

        return combinations;
    }

    private static IEnumerable<string> Pieces(string text, char separator)
    {
        var (begin, isQuoted) = (0, false);
        for (var index = 0; index <= text.Length; index++)
        {
            if (index == text.Length || (text[index] == separator && !isQuoted))
            {
                yield return text[begin..index].Trim();
                begin = index + 1;
            }
            else if (text[index] == '"')
            {
                isQuoted = !isQuoted;
            }
        }
    }

    private static string Unquoted(string value) => value is ['"', .. var inner, '"'] ? inner : value;

    private static string Meant(string part)
    {
        var key = part.Split('=', ':')[0];
        return Parts.Select(known => known.Key.TrimEnd(':'))
            .FirstOrDefault(known => key.Length > 2
                && (known.StartsWith(key, StringComparison.OrdinalIgnoreCase)
                    || key.StartsWith(known, StringComparison.OrdinalIgnoreCase))) is { } near
            ? $" (is {near} meant?)"
            : "";
    }

    private static string Names(IReadOnlyDictionary<string, string> named)
        => named.Count == 0 ? "" : $"; tachyscope.json names {string.Join(", ", named.Keys)}";

    private static Dictionary<string, string> With(IReadOnlyDictionary<string, string> values, string name, string value)
        => new(values) { [name] = value };

    private static bool IsRuntime(string value) => RuntimeLine().IsMatch(value) || ExactVersion().IsMatch(value);

    [GeneratedRegex(@"^net\d+\.0$")]
    private static partial Regex RuntimeLine();

    [GeneratedRegex(@"^\d+\.\d+\.\d+(-[\w.]+)?$")]
    private static partial Regex ExactVersion();

    [GeneratedRegex(@"^(\d+(\.\d+)?|latest|latestMajor|preview|default)$")]
    private static partial Regex LanguageVersion();

    [GeneratedRegex(@"^[A-Za-z_]\w*$")]
    private static partial Regex Symbol();
}
