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

    /// <summary>When the tool was started; its time counts from there.</summary>
    public DateTime Started { get; init; } = DateTime.Now;
}
