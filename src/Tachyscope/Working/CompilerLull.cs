using System.Diagnostics;
using System.Runtime;
using System.Runtime.CompilerServices;

namespace Tachyscope.Working;

/// <summary>Moments in which the runtime has compiled all that it was about to.</summary>
internal static class CompilerLull
{
    // Beyond the runtime's own wait, after which it looks what was called often.
    private const double MarginMilliseconds = 3;
    private const double MostMilliseconds = 100;

    /// <summary>Lets the processor go until nothing was compiled for a little longer than the runtime waits.</summary>
    /// <param name="mostMilliseconds">Time there is.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Await(double mostMilliseconds)
    {
        var still = OptimisationDelay.Milliseconds + MarginMilliseconds;
        var most = Math.Min(mostMilliseconds, still + MostMilliseconds);
        var begin = Stopwatch.GetTimestamp();
        var (since, compiled) = (0.0, JitInfo.GetCompiledMethodCount());
        while (Stopwatch.GetElapsedTime(begin).TotalMilliseconds is var now && now - since < still && now < most)
        {
            Thread.Sleep(1);
            if (JitInfo.GetCompiledMethodCount() is var compiledNow && compiledNow != compiled)
            {
                (since, compiled) = (Stopwatch.GetElapsedTime(begin).TotalMilliseconds, compiledNow);
            }
        }
    }
}
