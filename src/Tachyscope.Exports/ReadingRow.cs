using System.Reflection;
using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Exports;

/// <summary>A reading with the names that lead to it.</summary>
internal sealed class ReadingRow
{
    /// <summary>Names of the columns, in their order.</summary>
    public static IReadOnlyList<string> Names { get; } =
        [.. typeof(ReadingRow).GetProperties().Select(column => column.GetCustomAttribute<JsonPropertyNameAttribute>()?.Name)
            .OfType<string>()];

    [JsonPropertyName("study")]
    public required string Study { get; init; }

    [JsonPropertyName("target")]
    public required string Target { get; init; }

    /// <summary>Empty for the metronome.</summary>
    [JsonPropertyName("input")]
    public required string Input { get; init; }

    /// <summary>Name of the variant, or what else was read: the baseline's twin, an empty loop, the metronome.</summary>
    [JsonPropertyName("variant")]
    public required string Variant { get; init; }

    [JsonPropertyName("sitting")]
    public required int Sitting { get; init; }

    [JsonPropertyName("repeat")]
    public required int Repeat { get; init; }

    [JsonPropertyName("round")]
    public required int Round { get; init; }

    [JsonPropertyName("place")]
    public required int Place { get; init; }

    [JsonPropertyName("copy")]
    public required int Copy { get; init; }

    [JsonPropertyName("calls")]
    public required long Calls { get; init; }

    [JsonPropertyName("elapsed_ns")]
    public required long ElapsedNanoseconds { get; init; }

    [JsonPropertyName("processor_ns")]
    public required long? ProcessorNanoseconds { get; init; }

    [JsonPropertyName("allocated_bytes")]
    public required long AllocatedBytes { get; init; }

    [JsonPropertyName("collections_gen0")]
    public required int CollectionsGen0 { get; init; }

    [JsonPropertyName("collections_gen1")]
    public required int CollectionsGen1 { get; init; }

    [JsonPropertyName("collections_gen2")]
    public required int CollectionsGen2 { get; init; }

    [JsonPropertyName("pause_ns")]
    public required long PauseNanoseconds { get; init; }

    [JsonPropertyName("compiled_methods")]
    public required int CompiledMethods { get; init; }

    [JsonPropertyName("lock_contentions")]
    public required int LockContentions { get; init; }

    /// <summary>Every reading of a run, in the order in which it was taken.</summary>
    public static IEnumerable<ReadingRow> Of(Run run)
        => from study in run.Studies
           from sitting in study.Sittings
           from reading in sitting.Readings
           where reading.Cell >= 0 && reading.Cell < sitting.Cells.Count
           let cell = sitting.Cells[reading.Cell]
           select new ReadingRow
           {
               Study = study.Study.Name,
               Target = run.Targets.Count > 1 ? run.Targets[cell.Target].Name : "",
               Input = cell.Kind == CellKind.Metronome ? "" : study.Study.Inputs[cell.Input].Label,
               Variant = cell.Kind switch
               {
                   CellKind.Variant => study.Study.Variants[cell.Variant].Name,
                   CellKind.Metronome => "(metronome)",
                   var kind => $"({kind.ToString().ToLowerInvariant()} of {study.Study.Variants[cell.Variant].Name})",
               },
               Sitting = sitting.Number,
               Repeat = sitting.Repeat,
               Round = reading.Round,
               Place = reading.Place,
               Copy = cell.Copy,
               Calls = reading.Calls,
               ElapsedNanoseconds = reading.ElapsedNanoseconds,
               ProcessorNanoseconds = reading.ProcessorNanoseconds,
               AllocatedBytes = reading.AllocatedBytes,
               CollectionsGen0 = reading.CollectionsGen0,
               CollectionsGen1 = reading.CollectionsGen1,
               CollectionsGen2 = reading.CollectionsGen2,
               PauseNanoseconds = reading.PauseNanoseconds,
               CompiledMethods = reading.CompiledMethods,
               LockContentions = reading.LockContentions,
           };
}
