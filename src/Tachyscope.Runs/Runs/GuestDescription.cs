using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>A row that lives in a worker of another language.</summary>
sealed partial record GuestDescription
{
    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="isAllocationTold"><see cref="IsAllocationTold"/>.</param>
    [JsonConstructor]
    public GuestDescription(bool isAllocationTold = true) => IsAllocationTold = isAllocationTold;

    /// <summary>Language it is written in, such as "C".</summary>
    public required string Language { get; init; }

    /// <summary>Its source file, from the study project's folder; null for a program that is there already.</summary>
    public string? Source { get; init; }

    /// <summary>How it is built or started, as it was asked for, such as "gcc-12 -O3"; empty for the usual way of its language.</summary>
    public string Build { get; init => field = value ?? ""; } = "";

    /// <summary>Name of its operation in the guest; null for the first it has.</summary>
    public string? Operation { get; init; }

    /// <summary>Whether it is a program that is started anew for each call; false for one that keeps to the worker protocol.</summary>
    public bool IsWhole { get; init; }

    /// <summary>
    /// Whether it is a variant of the study's own, as its project has it when it is built for the target that Build names.
    /// </summary>
    public bool IsOnTarget { get; init; }

    /// <summary>Command that is run before each call, outside the timing; null for none.</summary>
    public string? Before { get; init; }

    /// <summary>Command that is run after each call, outside the timing; null for none.</summary>
    public string? After { get; init; }

    /// <summary>Files that are pushed out of the system's file cache before each call, the program's own with them; null where they
    /// stay.</summary>
    public IReadOnlyList<string>? Cold { get; init; }

    /// <summary>Whether its readings tell what was allocated; true by default.</summary>
    public bool IsAllocationTold { get; init; }

    /// <summary>What its compiler or runtime says of itself, such as "gcc-12 (Debian 12.2.0-14) 12.2.0"; null before it was
    /// built.</summary>
    public string? Version { get; init; }
}
