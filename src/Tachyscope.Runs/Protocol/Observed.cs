using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>Something a worker noticed while it compared an answer.</summary>
/// <param name="Kind">What was noticed.</param>
/// <param name="Evidence">The evidence, in a few words.</param>
sealed partial record Observed(ObservationKind Kind, string Evidence);
