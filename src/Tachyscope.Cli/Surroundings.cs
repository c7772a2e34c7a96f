using System.Diagnostics;
using Tachyscope.Storing;

namespace Tachyscope.Cli;

/// <summary>What the tool needs from outside, so that a test can drive it whole.</summary>
internal sealed record Surroundings
{
    /// <summary>Where results go.</summary>
    public required TextWriter Output { get; init; }

    /// <summary>Where what is piped in comes from.</summary>
    public TextReader Input { get; init; } = TextReader.Null;

    /// <summary>Where complaints go.</summary>
    public required TextWriter Error { get; init; }

    /// <summary>Columns and lines of the terminal in which a person watches the output; null when nobody does.</summary>
    public Func<(int Width, int Height)>? Terminal { get; init; }

    /// <summary>Where builds are kept; empty where the system knows no such place.</summary>
    public required string Cache { get; init; }

    /// <summary>The clock that measuring goes by; the system's by default.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>Time since the tool was started, by a clock that nobody sets.</summary>
    public TimeSpan Spent => Stopwatch.GetElapsedTime(_made);

    private readonly long _made = Stopwatch.GetTimestamp();

    /// <summary>Tells what is wrong, a line each, and answers the exit code.</summary>
    public async Task<int> ComplainAsync(IEnumerable<string> lines, int exitCode)
    {
        foreach (var line in lines)
        {
            await Error.WriteLineAsync($"tachyscope: {VisibleText.Of(line)}");
        }

        return exitCode;
    }
}
