using Tachyscope.Analysis.Histories;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Histories;

/// <summary>A run that was asked for.</summary>
/// <param name="Summary">What is kept of it.</param>
/// <param name="Read">Reads it with its readings.</param>
internal sealed record FoundRun(RunSummary Summary, Func<Run> Read);
