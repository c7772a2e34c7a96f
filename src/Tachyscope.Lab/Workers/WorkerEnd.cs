using System.Globalization;

namespace Tachyscope.Lab.Workers;

/// <summary>How a worker's process ended, in words.</summary>
/// <param name="Text">What it did, as the rest of a sentence about it.</param>
/// <param name="IsKilled">Whether a signal ended it that others send.</param>
internal readonly record struct WorkerEnd(string Text, bool IsKilled)
{
    private const int FirstSignal = 128;

    /// <param name="exitCode">Its exit code: 128 and the number of the signal, when one ended it.</param>
    /// <param name="hasOverflowed">Whether the runtime said that the stack overflowed.</param>
    public static WorkerEnd Of(int exitCode, bool hasOverflowed)
    {
        var signal = OperatingSystem.IsWindows() ? 0 : exitCode - FirstSignal;
        var cause = hasOverflowed ? "overflowed the stack and " : signal switch
        {
            4 => "met an instruction that this processor does not have (SIGILL) and ",
            7 => "reached beyond a mapped file or failing memory (SIGBUS) and ",
            8 => "divided by zero in native code (SIGFPE) and ",
            9 => "was killed from outside (SIGKILL), by the system for want of memory or by somebody, and ",
            11 => "reached memory that is not its own (a segmentation fault) and ",
            15 => "was asked to end from outside (SIGTERM) and ",
            _ => "",
        };
        var text = string.Create(CultureInfo.InvariantCulture, $"{cause}ended its process with exit code {exitCode}");
        return new WorkerEnd(text, signal is 9 or 15);
    }
}
