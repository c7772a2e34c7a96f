using System.Diagnostics;

namespace Tachyscope.Cli;

/// <summary>What the tool needs from outside, so that a test can drive it whole.</summary>
internal sealed record Surroundings
{
    /// <summary>Where results go.</summary>
    public required TextWriter Output { get; init; }

    /// <summary>Where complaints go.</summary>
    public required TextWriter Error { get; init; }

    /// <summary>Whether a person watches the output in a terminal.</summary>
    public bool IsTerminal { get; init; }

    /// <summary>Where builds are kept.</summary>
    public required string Cache { get; init; }

    /// <summary>How long the tool had been running when these were made; its time counts from its start.</summary>
    public TimeSpan Age { get; init; }

    /// <summary>Time since the tool was started, by a clock that nobody sets.</summary>
    public TimeSpan Spent => Age + Stopwatch.GetElapsedTime(_made);

    private readonly long _made = Stopwatch.GetTimestamp();
}
