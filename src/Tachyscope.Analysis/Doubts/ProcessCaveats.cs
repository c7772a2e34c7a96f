using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What is wrong with the measured process as a whole.</summary>
internal static class ProcessCaveats
{
    public static IEnumerable<Caveat> Find(WorkerEnvironment environment, MachineDescription machine)
    {
        if (!environment.IsOptimized)
        {
            yield return new Caveat
            {
                Name = "unoptimised-build",
                Evidence = $"{string.Join(", ", environment.UnoptimizedAssemblies)} was compiled without optimisation",
                WayOut = "build with -c Release",
            };
        }

        if (environment.IsDebuggerAttached)
        {
            yield return new Caveat { Name = "debugger-attached", Evidence = "a debugger watched the worker", WayOut = "run without it" };
        }

        if (environment.IsProfilerAttached)
        {
            yield return new Caveat
            {
                Name = "profiler-attached",
                Evidence = "the worker was started for a profiler, which changes what is compiled (CORECLR_ENABLE_PROFILING is 1)",
                WayOut = "unset it and run again",
            };
        }

        if (environment.VectorBits > 0 && environment.VectorBits < machine.VectorBits)
        {
            yield return new Caveat
            {
                Name = "vectors-narrower",
                Evidence = Text($"vectors of {environment.VectorBits} bits were in use, though the processor has {machine.VectorBits}"),
                WayOut = "unset the runtime switch that forbids them, or state with the result that it holds for this width",
            };
        }

        if (environment.Processors.Count == 1)
        {
            yield return new Caveat
            {
                Name = "single-processor",
                Evidence = "one processor for the operation, its collector, its compiler and this tool",
                WayOut = "allow a second one; contrasts hold, since all variants had to share alike",
            };
        }
    }
}
