using System.Text.Json.Serialization;

namespace Tachyscope.Lab.Building;

/// <summary>What came of building a study project.</summary>
public sealed record BuildOutcome
{
    /// <summary>Path of the assembly to start workers from; null when there is none.</summary>
    public string? Assembly { get; init; }

    /// <summary>Whether that is a program that starts by itself, rather than an assembly for a runtime.</summary>
    public bool IsProgram { get; init; }

    /// <summary>Framework it was compiled for, such as "net10.0"; null for an assembly that was taken as it is.</summary>
    public string? Framework { get; init; }

    /// <summary>Version of the C# compiler that its assembly says it was made by; null where it does not say.</summary>
    public string? Compiler { get; init; }

    /// <summary>What went wrong, in the compiler's own words where it was the compiler; empty when all went well.</summary>
    public IReadOnlyList<string> Errors { get; init; } = [];

    /// <summary>Where the whole output of the build is; null when nothing was built.</summary>
    public string? Log { get; init; }

    /// <summary>Whether it was built just now; false when an earlier build was still good.</summary>
    [JsonIgnore]
    public bool IsNew { get; init; }

    /// <summary>Keeps the build as it is until disposed; null when there is none, or none of ours.</summary>
    [JsonIgnore]
    public IDisposable? Lease { get; init; }

    /// <summary>Whether the path given was wrong, rather than the build.</summary>
    public bool IsWrongUse { get; init; }
}
