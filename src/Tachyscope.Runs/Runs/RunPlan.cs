using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>What a run was asked to do.</summary>
sealed partial record RunPlan
{
    /// <summary>Sittings that a comparison gets at most, whatever time it is allowed.</summary>
    public const int MostSittings = 40;

    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="seed"><see cref="Seed"/>.</param>
    /// <param name="marginShare"><see cref="MarginShare"/>.</param>
    /// <param name="repeats"><see cref="Repeats"/>.</param>
    /// <param name="copies"><see cref="Copies"/>.</param>
    /// <param name="isQuietSought"><see cref="IsQuietSought"/>.</param>
    [JsonConstructor]
    public RunPlan(int seed = 1, double marginShare = 0.01, int repeats = 1, int copies = 1, bool isQuietSought = true)
        => (Seed, MarginShare, Repeats, Copies, IsQuietSought) = (seed, marginShare, repeats, copies, isQuietSought);

    /// <summary>Seed of every shuffle, and of input factories that take one; 1 by default.</summary>
    public int Seed { get; init; }

    /// <summary>
    /// All the time the run may take, in seconds; null for six sittings a study, or as many again where these leave contrasts wide.
    /// </summary>
    public double? WithinSeconds { get; init; }

    /// <summary>Half-width at which every contrast is tight enough, as a share of the baseline's time; null to stop by time.</summary>
    public double? PrecisionShare { get; init; }

    /// <summary>Smallest difference that matters, as a share of the baseline's time; 0.01 by default.</summary>
    public double MarginShare { get; init; }

    /// <summary>Patterns of study names to measure; empty for all.</summary>
    public IReadOnlyList<string> Only { get; init => field = value ?? []; } = [];

    /// <summary>How long one call may go without an answer before its cell is given up, in seconds; null for the tool's own rule.</summary>
    public double? PatienceSeconds { get; init; }

    /// <summary>Whether to measure although the build or a debugger is known to spoil the figures.</summary>
    public bool IsInsisted { get; init; }

    /// <summary>Whether every cell is read in a second loop too, in which calls may run side by side.</summary>
    public bool IsOverlappedRead { get; init; }

    /// <summary>Whether the collector is kept out of the readings where its budget allows.</summary>
    public bool IsCollectionHeld { get; init; }

    /// <summary>Whether every sitting is read twice, with the collector free and then kept out.</summary>
    public bool IsCollectionCompared { get; init; }

    /// <summary>Whether variants are measured in workers of their own too, beside the sittings they share.</summary>
    public bool IsApart { get; init; }

    /// <summary>How often the whole comparison is made; once by default.</summary>
    public int Repeats { get; init; }

    /// <summary>Copies of the study's code in each sitting; 1 by default.</summary>
    public int Copies { get; init; }

    /// <summary>
    /// Whether there are sittings enough to tell several speeds of one code apart, each of which hears what is compiled in it; false by
    /// default.
    /// </summary>
    public bool AreSpeedsSought { get; init; }

    /// <summary>Whether every cell is read in a loop too that calls the operation and never takes it in; false by default.</summary>
    public bool IsCalledRead { get; init; }

    /// <summary>Whether every cell is read too with its caches emptied before each call, level by level; false by default.</summary>
    public bool IsColdRead { get; init; }

    /// <summary>Whether readings are taken while nobody else uses the core, as far as that can be had; true by default.</summary>
    public bool IsQuietSought { get; init; }

    /// <summary>What is looked at in processes of its own.</summary>
    public IReadOnlyList<DiagnosisKind> Diagnoses { get; init => field = value ?? []; } = [];
}
