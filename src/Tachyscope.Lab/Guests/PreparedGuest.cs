using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>A guest that can be started, or what kept it from that.</summary>
/// <param name="Guest">The guest, with what its compiler or runtime says of itself.</param>
/// <param name="Starter">Starts its workers; null when there is none to start.</param>
/// <param name="Problem">Why there is none, in a sentence with the way out; null when there is one.</param>
/// <param name="LastLines">The last lines of what did not build; empty when there are none.</param>
/// <param name="Program">Path of its program, where it is machine code; null otherwise.</param>
public sealed record PreparedGuest(
    GuestDescription Guest, IWorkerStarter? Starter, string? Problem = null, IReadOnlyList<string>? LastLines = null,
        string? Program = null);
