using System.Text.Json;

namespace Tachyscope.Lab.StudyFiles;

/// <summary>What a study.json says; docs/study.schema.json describes it.</summary>
internal sealed record StudyFileContent
{
    public IReadOnlyList<StudyOfGuests>? Studies { get; init; }
}

/// <summary>One study of it.</summary>
internal sealed record StudyOfGuests
{
    public string? Name { get; init; }

    public IReadOnlyList<InputOfGuests>? Inputs { get; init; }

    public IReadOnlyList<GuestOfStudy>? Guests { get; init; }

    /// <summary>Name of the guest whose first build the others are compared with; the first guest by default.</summary>
    public string? Baseline { get; init; }

    /// <summary>Largest difference allowed between numbers, as a share of the larger of 1 and the two magnitudes.</summary>
    public double Tolerance { get; init; }
}

/// <summary>An input: a value, or a file that holds one.</summary>
internal sealed record InputOfGuests
{
    public string? Label { get; init; }

    public JsonElement? Value { get; init; }

    /// <summary>Path of a file of JSON, from the folder of the study.json.</summary>
    public string? File { get; init; }

    /// <summary>How many there are of what <see cref="Of"/> names, for the growth; null for a kind.</summary>
    public int? Size { get; init; }

    public string? Of { get; init; }
}

/// <summary>A guest: a source with its builds, or commands.</summary>
internal sealed record GuestOfStudy
{
    public string? Name { get; init; }

    public string? Language { get; init; }

    public string? Source { get; init; }

    public IReadOnlyList<string>? Builds { get; init; }

    public IReadOnlyList<string>? Commands { get; init; }

    public string? Operation { get; init; }

    /// <summary>Programs that are started anew for each call.</summary>
    public IReadOnlyList<string>? Runs { get; init; }

    public string? Before { get; init; }

    public string? After { get; init; }

    /// <summary>Files pushed out of the file cache before each call of a row more.</summary>
    public IReadOnlyList<string>? Cold { get; init; }
}
