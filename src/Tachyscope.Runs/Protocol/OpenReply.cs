using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Open"/>.</summary>
sealed partial record OpenReply
{
    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="copies"><see cref="Copies"/>.</param>
    [JsonConstructor]
    public OpenReply(int copies = 1) => Copies = copies;

    /// <summary>Number of cells set up.</summary>
    public required int Cells { get; init; }

    /// <summary>Copies of the study's code that were set up, the first included; cells of others take no part.</summary>
    public int Copies { get; init; }

    /// <summary>Why there are fewer than asked for, in a few words; null when there are not.</summary>
    public string? CopiesProblem { get; init; }
}
