using Tachyscope.Analysis.Findings;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What is wrong with the measured process as a whole.</summary>
internal static class ProcessCaveats
{
    public static IReadOnlyList<Func<CaveatGround, Caveat?>> All { get; } = [UnoptimisedBuild, DebuggerAttached, ProfilerAttached,
        VectorsNarrower, SingleProcessor];

    private static Caveat? UnoptimisedBuild(CaveatGround ground) => ground.Run.Environment.IsOptimized ? null : new Caveat
    {
        Name = "unoptimised-build",
        Evidence = $"{string.Join(", ", ground.Run.Environment.UnoptimizedAssemblies)} was compiled without optimisation",
        WayOut = "build with -c Release",
    };

    private static Caveat? DebuggerAttached(CaveatGround ground) => !ground.Run.Environment.IsDebuggerAttached ? null : new Caveat
    {
        Name = "debugger-attached",
        Evidence = "a debugger watched the worker",
        WayOut = "run without it",
    };

    private static Caveat? ProfilerAttached(CaveatGround ground) => !ground.Run.Environment.IsProfilerAttached ? null : new Caveat
    {
        Name = "profiler-attached",
        Evidence = "the worker was started for a profiler, which changes what is compiled (CORECLR_ENABLE_PROFILING is 1)",
        WayOut = "unset it and run again",
    };

    private static Caveat? VectorsNarrower(CaveatGround ground)
        => ground.Run.Environment.VectorBits is not (> 0 and var used) || !(used < ground.Run.Machine.VectorBits) ? null : new Caveat
        {
            Name = "vectors-narrower",
            Evidence = Text($"vectors of {used} bits were in use, though the processor has {ground.Run.Machine.VectorBits}"),
            WayOut = "unset the runtime switch that forbids them, or state with the result that it holds for this width",
        };

    private static Caveat? SingleProcessor(CaveatGround ground) => ground.Run.Environment.Processors.Count != 1 ? null : new Caveat
    {
        Name = "single-processor",
        Evidence = "one processor for the operation, its collector, its compiler and this tool",
        WayOut = "allow a second one; contrasts hold, since all variants had to share alike",
    };
}
