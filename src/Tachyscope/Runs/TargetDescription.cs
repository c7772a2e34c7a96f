namespace Tachyscope.Runs;

/// <summary>One of the targets of a run.</summary>
/// <param name="Name">What it is called: its name, or its recipe as it was written.</param>
/// <param name="Environment">What its workers said of themselves.</param>
public sealed record TargetDescription(string Name, WorkerEnvironment Environment);
