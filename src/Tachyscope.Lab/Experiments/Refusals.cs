using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Targets;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Reasons not to begin, each a sentence with its way out.</summary>
internal static class Refusals
{
    /// <summary>Patterns that match no study.</summary>
    public static IEnumerable<string> OfPatterns(IReadOnlyList<StudyDescription> studies, IReadOnlyList<string> patterns)
        => StudyFilter.Idle(studies, patterns)
            .Select(pattern => $"no study matches --only \"{pattern}\"; the studies are "
                + $"{string.Join(", ", studies.Select(study => $"\"{study.Name}\""))}.");

    public static IEnumerable<string> Of(HelloReply hello, Target target, RunPlan plan)
    {
        if (hello.Protocol != WorkerMethods.ProtocolVersion)
        {
            yield return $"the worker speaks version {hello.Protocol} of the protocol and this tool version "
                + $"{WorkerMethods.ProtocolVersion}; "
                + (hello.Protocol < WorkerMethods.ProtocolVersion
                    ? "the project's Tachyscope package is older: update it, or measure with the tool it carries (dotnet run -c Release)."
                    : "the tool is older: update it (dotnet tool update Tachyscope.Tool), or measure with the one that the project's "
                        + "package carries (dotnet run -c Release).");
        }

        if (plan.IsInsisted)
        {
            yield break;
        }

        // What was asked for is no oversight.
        if (!hello.Environment.IsOptimized && target.IsOptimized)
        {
            var names = string.Join(", ", hello.Environment.UnoptimizedAssemblies);
            yield return $"{names} was built without optimisation (Debug), so its times would say nothing; build with -c Release, or "
                + "add --insist to measure it all the same.";
        }

        if (hello.Environment.IsDebuggerAttached)
        {
            yield return "a debugger is attached to the worker and slows it; start without one, or add --insist to measure all the same.";
        }

        if (hello.Environment.IsProfilerAttached)
        {
            yield return "a profiler is attached to the worker (CORECLR_ENABLE_PROFILING is 1) and slows it; unset that, or add "
                + "--insist to measure all the same.";
        }
    }
}
