using System.Collections;
using System.Diagnostics;
using System.Numerics;
using System.Reflection;
using System.Runtime;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.Arm;
using System.Runtime.Intrinsics.X86;
using System.Runtime.Versioning;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using ArmAes = System.Runtime.Intrinsics.Arm.Aes;

namespace Tachyscope.Working;

/// <summary>What a worker says of itself.</summary>
internal static class Introduction
{
    private static readonly string[] SwitchPrefixes = ["DOTNET_", "COMPlus_"];

    // Set by the SDK, the person for the command line's sake, or the tool; they do not change the code that is measured.
    private static readonly string[] UnrelatedSwitches =
    [
        "DOTNET_ROOT", "DOTNET_HOST_PATH", "DOTNET_CLI", "DOTNET_NOLOGO", "DOTNET_GENERATE_ASPNET_CERTIFICATE", "DOTNET_LAUNCH_PROFILE",
        "DOTNET_SKIP_FIRST_TIME_EXPERIENCE", "DOTNET_USE_POLLING_FILE_WATCHER", "DOTNET_MULTILEVEL_LOOKUP",
            "DOTNET_ADD_GLOBAL_TOOLS_TO_PATH",
        WorkerMethods.SingleProcessorDelayVariable,
    ];

    private const string ToolsOwnDelay = $"{WorkerMethods.OptimisationDelayVariable}={WorkerMethods.OptimisationDelay}";

    public static HelloReply Of(IReadOnlyList<Study> studies)
    {
        var unoptimized = Unoptimized(studies);
        return new HelloReply
        {
            Protocol = WorkerMethods.ProtocolVersion,
            Kit = "dotnet",
            ProcessId = Environment.ProcessId,
            Environment = new WorkerEnvironment
            {
                Runtime = RuntimeInformation.FrameworkDescription,
                Architecture = RuntimeInformation.ProcessArchitecture.ToString().ToLowerInvariant(),
                IsOptimized = unoptimized.Count == 0,
                UnoptimizedAssemblies = unoptimized,
                IsDebuggerAttached = Debugger.IsAttached,
                IsProfilerAttached = Environment.GetEnvironmentVariable("CORECLR_ENABLE_PROFILING") == "1",
                ClockStepNanoseconds = Clock.StepNanoseconds(),
                VectorBits = VectorBits(),
                InstructionSets = InstructionSets(),
                IsServerGc = GCSettings.IsServerGC,
                IsConcurrentGc = GCSettings.LatencyMode == GCLatencyMode.Interactive,
                Framework = Framework(),
                IsAheadOfTime = !RuntimeFeature.IsDynamicCodeSupported,
                Processors = Affinity.Allowed,
                Switches = Switches(),
            },
        };
    }

    private static List<string> Unoptimized(IReadOnlyList<Study> studies)
        => [.. studies.SelectMany(study => study.Body.Assemblies)
            .Distinct()
            .Where(assembly => assembly.GetCustomAttribute<DebuggableAttribute>()?.IsJITOptimizerDisabled == true)
            .Select(assembly => assembly.GetName().Name ?? "unnamed")];

    // ".NETCoreApp,Version=v8.0"
    private static string? Framework()
        => Assembly.GetEntryAssembly()?.GetCustomAttribute<TargetFrameworkAttribute>()?.FrameworkName is { } name
            && name.IndexOf("=v", StringComparison.Ordinal) is > 0 and var version
            ? $"net{name[(version + 2)..]}"
            : null;

    private static int VectorBits()
        => Vector512.IsHardwareAccelerated ? 512
            : Vector256.IsHardwareAccelerated ? 256
            : Vector128.IsHardwareAccelerated ? 128
            : Vector<byte>.Count * 8;

    // Constants of the compiled code, of which a program that was compiled ahead of time has its own.
    private static List<string> InstructionSets()
    {
        (string Name, bool IsUsed)[] sets = X86Base.IsSupported
            ?
            [
                ("AVX", Avx.IsSupported), ("AVX2", Avx2.IsSupported), ("BMI", Bmi1.IsSupported), ("BMI2", Bmi2.IsSupported),
                ("FMA", Fma.IsSupported), ("LZCNT", Lzcnt.IsSupported), ("POPCNT", Popcnt.IsSupported), ("AVX-512", Avx512F.IsSupported),
            ]
            :
            [
                ("AES", ArmAes.IsSupported), ("DotProd", Dp.IsSupported), ("RDMA", Rdm.IsSupported), ("SHA-2", Sha256.IsSupported),
                ("CRC32", Crc32.IsSupported),
            ];
        return [.. sets.Where(set => set.IsUsed).Select(set => set.Name)];
    }

    private static List<string> Switches()
        => [.. Environment.GetEnvironmentVariables().Cast<DictionaryEntry>()
            .Select(entry => (Name: (string)entry.Key, Value: entry.Value as string))
            .Where(entry => Array.Exists(SwitchPrefixes, prefix => entry.Name.StartsWith(prefix, StringComparison.OrdinalIgnoreCase))
                && !Array.Exists(UnrelatedSwitches, prefix => entry.Name.StartsWith(prefix, StringComparison.OrdinalIgnoreCase)))
            .Select(entry => $"{entry.Name}={entry.Value}")
            .Where(entry => entry != ToolsOwnDelay)
            .Order(StringComparer.Ordinal)];
}
