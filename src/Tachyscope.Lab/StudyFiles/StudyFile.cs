using System.Text.Json;
using Tachyscope.Runs;

namespace Tachyscope.Lab.StudyFiles;

/// <summary>Studies wholly of guests, written without C# in a study.json.</summary>
internal sealed class StudyFile
{
    /// <summary>Name of the file that a folder without a project is looked through for.</summary>
    public const string Name = "study.json";

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
        UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow,
    };

    private readonly Dictionary<string, JsonElement[]> _inputs = [];

    private StudyFile(IReadOnlyList<StudyDescription> studies) => Studies = studies;

    /// <summary>The studies.</summary>
    public IReadOnlyList<StudyDescription> Studies { get; }

    /// <summary>Whether a path on the command line means such a file: the file itself, or a folder that holds one and no project.</summary>
    /// <returns>Its whole path; null when it means something else.</returns>
    public static string? Find(string path)
    {
        var full = Path.GetFullPath(path);
        return Directory.Exists(full)
            ? Path.Combine(full, Name) is var inside && File.Exists(inside) && Directory.GetFiles(full, "*.*proj").Length == 0 ? inside
                : null
            : Path.GetExtension(full).Equals(".json", StringComparison.OrdinalIgnoreCase) && File.Exists(full) ? full : null;
    }

    /// <summary>Reads one.</summary>
    /// <param name="path">Its path.</param>
    /// <returns>The studies; or what is wrong, each a sentence with its way out.</returns>
    public static (StudyFile? File, IReadOnlyList<string> Problems) Read(string path)
    {
        StudyFileContent? content;
        try
        {
            using var stream = File.OpenRead(path);
            content = JsonSerializer.Deserialize<StudyFileContent>(stream, Options);
        }
        catch (JsonException exception)
        {
            var reason = exception.Message.Split(" Path:")[0].TrimEnd('.');
            // The reader names the class it reads into, which nobody knows.
            var unknown = reason.Contains("could not be mapped", StringComparison.Ordinal)
                ? $"{reason.Split('\'')[1]} is nothing that a study has" : reason;
            return (null, [FormattableString.Invariant(
                $"{path}, line {(exception.LineNumber ?? 0) + 1}: {unknown}; docs/study.schema.json says what may stand there.")]);
        }

        if (content?.Studies is not { Count: > 0 } studies)
        {
            return (null, [$"{path} has no studies; write {{ \"studies\": [ … ] }} with a study in it."]);
        }

        var problems = studies.SelectMany(Problems).Concat(Repeated(studies.Select(study => study.Name), "studies are named", "study"))
            .Select(problem => $"{path}: {problem}").ToList();
        if (problems.Count > 0)
        {
            return (null, problems);
        }

        var file = new StudyFile([.. studies.Select(Described)]);
        foreach (var study in studies)
        {
            var values = new List<JsonElement>();
            foreach (var input in study.Inputs!)
            {
                try
                {
                    values.Add(input.Value ?? Parsed(Path.GetFullPath(input.File!, Path.GetDirectoryName(Path.GetFullPath(path))!)));
                }
                catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or JsonException)
                {
                    problems.Add($"{path}: the file {input.File} of input \"{input.Label}\" cannot be read: {exception.Message}");
                }
            }

            file._inputs[study.Name!] = [.. values];
        }

        return problems.Count > 0 ? (null, problems) : (file, []);
    }

    /// <summary>An input as JSON.</summary>
    public JsonElement Input(string study, int input) => _inputs[study][input];

    private static JsonElement Parsed(string path)
    {
        using var stream = File.OpenRead(path);
        return JsonDocument.Parse(stream).RootElement.Clone();
    }

    private static IEnumerable<string> Problems(StudyOfGuests study)
    {
        if (string.IsNullOrWhiteSpace(study.Name))
        {
            yield return "a study has no name; name what the operation does.";
            yield break;
        }

        var of = $"study \"{study.Name}\"";
        if (study.Inputs is not { Count: > 0 } || study.Guests is not { Count: > 0 })
        {
            yield return $"{of} has no inputs or no guests; it has at least one of each.";
            yield break;
        }

        foreach (var input in study.Inputs)
        {
            if (string.IsNullOrWhiteSpace(input.Label) || (input.Value is null) == (input.File is null))
            {
                yield return $"{of}: the input \"{input.Label}\" has no label, or not one of value and file.";
            }

            if (input.Size is < 0 || (input.Size is null) != (input.Of is null))
            {
                yield return $"{of}: the input \"{input.Label}\" has a size below 0, or only one of size and of, "
                    + "as in \"size\": 256, \"of\": \"beacons\".";
            }
        }

        foreach (var guest in study.Guests)
        {
            var kinds = (guest.Source is null ? 0 : 1) + (guest.Commands is { Count: > 0 } ? 1 : 0)
                + (guest.Runs is { Count: > 0 } ? 1 : 0);
            if (string.IsNullOrWhiteSpace(guest.Name) || (guest.Language is null) != (guest.Runs is not null) || kinds != 1
                || (guest.Source is null && guest.Builds is not null))
            {
                yield return $"{of}: the guest \"{guest.Name}\" has no name, or not one of source (with language and builds), "
                    + "commands (with language) and runs.";
            }

            if (guest.Runs is null && ((guest.Before ?? guest.After) is not null || guest.Cold is not null))
            {
                yield return $"{of}: the guest \"{guest.Name}\" has before, after or cold, which are for runs.";
            }
        }

        foreach (var problem in Repeated(study.Inputs.Select(input => input.Label), "inputs are labelled", "input")
            .Concat(Repeated(study.Guests.Select(guest => guest.Name), "guests are named", "guest")))
        {
            yield return $"{of}: {problem}";
        }

        if (study.Baseline is not null && study.Guests.All(guest => guest.Name != study.Baseline))
        {
            var names = string.Join(", ", study.Guests.Select(guest => guest.Name));
            yield return $"{of}: its baseline \"{study.Baseline}\" is no guest; the guests are {names}.";
        }

        if (!(study.Tolerance >= 0) || double.IsInfinity(study.Tolerance))
        {
            yield return FormattableString.Invariant(
                $"{of}: the tolerance {study.Tolerance} is no number of 0 or more; write one such as 1e-12.");
        }
    }

    private static IEnumerable<string> Repeated(IEnumerable<string?> names, string what, string one)
        => names.Where(name => name is not null).GroupBy(name => name).Where(same => same.Count() > 1)
            .Select(same => $"two {what} \"{same.Key}\"; give each {one} a name of its own.");

    private static StudyDescription Described(StudyOfGuests study)
    {
        var baseline = study.Baseline ?? study.Guests![0].Name;
        return new StudyDescription
        {
            Name = study.Name!,
            Agreement = study.Tolerance > 0 ? FormattableString.Invariant($"within {study.Tolerance:R}") : "exactly",
            Tolerance = study.Tolerance,
            Inputs = [.. study.Inputs!.Select(input => new InputDescription
            {
                Label = input.Label!, Sizes = input.Size is { } size ? [new InputSize(input.Of!, size)] : [],
            })],
            Variants = [.. study.Guests!.SelectMany(guest => Rows(guest).Select((row, index) => row with
            {
                IsBaseline = guest.Name == baseline && index == 0,
            }))],
        };
    }

    private static IEnumerable<VariantDescription> Rows(GuestOfStudy guest)
    {
        IReadOnlyList<string> builds = (guest.Runs ?? (guest.Source is null ? guest.Commands : guest.Builds)) is { Count: > 0 } named
            ? named : [""];
        return from build in builds
               from isCold in guest.Cold is null ? [false] : (bool[])[false, true]
               select new VariantDescription
               {
                   Name = $"{guest.Name}{(builds.Count > 1 ? $", {build}" : "")}{(isCold ? ", cold files" : "")}",
                   Variant = guest.Name!,
                   Guest = new GuestDescription
                   {
                       Language = guest.Language ?? "command", Source = guest.Source, Build = build, Operation = guest.Operation,
                       IsWhole = guest.Runs is not null, Before = guest.Before, After = guest.After, Cold = isCold ? guest.Cold : null,
                   },
               };
    }
}
