using System.Diagnostics;
using System.Globalization;
using System.Reflection;
using System.Runtime;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics.X86;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>
/// Looks what the well-known runtime switches did in this process: instruction sets and the collector say so themselves; of the
/// just-in-time compiler, what it makes of two methods that are called for a while tells.
/// </summary>
internal static class SwitchEffects
{
    private const int LoopTurns = 200_000;
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(2);

    public static Dictionary<string, string> Look()
    {
        var effects = new Dictionary<string, string>
        {
            ["gcServer"] = Flag(GCSettings.IsServerGC),
            ["gcConcurrent"] = Flag(GCSettings.LatencyMode == GCLatencyMode.Interactive),
        };
        AddInstructionSets(effects);
        AddCollector(effects);
        if (RuntimeFeature.IsDynamicCodeSupported)
        {
            AddCompiler(effects);
        }

        return effects;
    }

    private static void AddInstructionSets(Dictionary<string, string> effects)
    {
        if (!X86Base.IsSupported && !Sse2.IsSupported)
        {
            return;
        }

        effects["EnableHWIntrinsic"] = Flag(X86Base.IsSupported);
        effects["EnableSSE42"] = Flag(Sse42.IsSupported);
        effects["EnableAVX"] = Flag(Avx.IsSupported);
        effects["EnableAVX2"] = Flag(Avx2.IsSupported);
        effects["EnableFMA"] = Flag(Fma.IsSupported);
        effects["EnableBMI1"] = Flag(Bmi1.IsSupported);
        effects["EnableBMI2"] = Flag(Bmi2.IsSupported);
        effects["EnableLZCNT"] = Flag(Lzcnt.IsSupported);
        effects["EnablePOPCNT"] = Flag(Popcnt.IsSupported);
        effects["EnableAES"] = Flag(Aes.IsSupported);
        effects["EnableAVX512"] = Flag(Avx512F.IsSupported);
        effects["EnableAVX512F"] = Flag(Avx512F.IsSupported);
    }

    private static void AddCollector(Dictionary<string, string> effects)
    {
        var settings = GC.GetConfigurationVariables();
        foreach (var (name, setting) in ((string, string)[])
            [("GCName", "GCName"), ("GCConserveMemory", "GCConserveMem"), ("GCHeapHardLimit", "GCHeapHardLimit"),
                ("GCHeapCount", "HeapCount"), ("GCRetainVM", "RetainVM"), ("GCDynamicAdaptationMode", "GCDynamicAdaptationMode")])
        {
            if (settings.TryGetValue(setting, out var value))
            {
                effects[name] = value switch
                {
                    bool isOn => Flag(isOn),
                    // As the environment gives numbers to the runtime.
                    IFormattable number => number.ToString("X", CultureInfo.InvariantCulture),
                    _ => value.ToString() ?? "",
                };
            }
        }
    }

    private static void AddCompiler(Dictionary<string, string> effects)
    {
        var (called, looping) = (Method(nameof(Called)), Method(nameof(Looping)));
        // Of the framework's own library, compiled ahead as it comes, and not called by anything before.
        var shipped = typeof(HebrewCalendar).GetMethod(nameof(HebrewCalendar.GetMonthsInYear), [typeof(int), typeof(int)])!;
        using var ofCalled = new CodeVersions(called);
        using var ofLooping = new CodeVersions(looping);
        using var ofShipped = new CodeVersions(shipped);
        new HebrewCalendar().GetMonthsInYear(5_780, 1);
        var start = Stopwatch.GetTimestamp();
        Looping(LoopTurns);
        var calls = 0;
        while (Stopwatch.GetElapsedTime(start) < Longest && !ofCalled.IsQuiet)
        {
            calls = Called(calls);
            Looping(1);
            Thread.Sleep(calls % 100 == 0 ? 1 : 0);
        }

        bool Made(CodeVersions versions, CodeTier tier) => versions.Found().Any(version => version.Tier == tier);
        effects["TieredCompilation"] = Flag(Made(ofCalled, CodeTier.Optimised));
        effects["TieredPGO"] = Flag(Made(ofCalled, CodeTier.Profiling) || Made(ofCalled, CodeTier.OptimisedProfiling)
            || Made(ofLooping, CodeTier.Profiling) || Made(ofLooping, CodeTier.OptimisedProfiling));
        effects["TC_QuickJit"] = Flag(Made(ofCalled, CodeTier.Quick) || Made(ofCalled, CodeTier.Profiling));
        effects["TC_QuickJitForLoops"] = Flag(Made(ofLooping, CodeTier.Quick) || Made(ofLooping, CodeTier.Profiling));
        effects["TC_OnStackReplacement"] = Flag(Made(ofLooping, CodeTier.OptimisedInLoop));
        effects["ReadyToRun"] = Flag(Made(ofShipped, CodeTier.BuiltAhead));
    }

    private static MethodInfo Method(string name)
        => typeof(SwitchEffects).GetMethod(name, BindingFlags.NonPublic | BindingFlags.Static)!;

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int Called(int calls) => calls + 1;

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int Looping(int turns)
    {
        var sum = 0;
        for (var turn = 0; turn < turns; turn++)
        {
            sum += turn ^ (sum >> 3);
        }

        return sum;
    }

    private static string Flag(bool isOn) => isOn ? "1" : "0";
}
