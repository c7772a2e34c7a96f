using System.Globalization;
using System.Runtime.CompilerServices;
using Tachyscope.Protocol;

namespace Tachyscope.Working;

/// <summary>How long this runtime waits, once no new code was called, before it begins to count calls and to optimise.</summary>
internal static class OptimisationDelay
{
    private const int UsualMilliseconds = 100;

    /// <summary>The wait, in milliseconds; 0 where code is compiled ahead of time.</summary>
    public static int Milliseconds { get; } = RuntimeFeature.IsDynamicCodeSupported
        ? Of(Environment.GetEnvironmentVariable(WorkerMethods.OptimisationDelayVariable))
        : 0;

    /// <summary>
    /// Whether it is shorter than the runtime's own, as the tool has it but where the way to full speed is what is asked for.
    /// </summary>
    public static bool IsShort => RuntimeFeature.IsDynamicCodeSupported && Milliseconds < UsualMilliseconds;

    /// <summary>The wait that a value of the variable asks for: the runtime reads it as hexadecimal, and what is no number as if it were
    /// not there.</summary>
    public static int Of(string? value)
    {
        var digits = value?.StartsWith("0x", StringComparison.OrdinalIgnoreCase) == true ? value[2..] : value;
        return int.TryParse(digits, NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture, out var wait)
            && wait >= 0 ? wait : UsualMilliseconds;
    }
}
