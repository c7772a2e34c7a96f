using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Reasons not to begin, each a sentence with its way out.</summary>
internal static class Refusals
{
    public static IEnumerable<string> Of(HelloReply hello, StudiesReply reply, RunPlan plan)
    {
        if (hello.Protocol != WorkerMethods.ProtocolVersion)
        {
            yield return $"the worker speaks version {hello.Protocol} of the protocol and this tool version {WorkerMethods.ProtocolVersion}; "
                + "take the tool and the Tachyscope package from the same release.";
        }

        foreach (var pattern in StudyFilter.Idle(reply.Studies, plan.Only))
        {
            var names = string.Join(", ", reply.Studies.Select(study => $"\"{study.Name}\""));
            yield return $"no study matches --only \"{pattern}\"; the studies are {names}.";
        }

        if (plan.IsInsisted)
        {
            yield break;
        }

        if (!hello.Environment.IsOptimized)
        {
            var names = string.Join(", ", hello.Environment.UnoptimizedAssemblies);
            yield return $"{names} was built without optimisation (Debug), so its times would say nothing; build with -c Release, or add --insist to measure it all the same.";
        }

        if (hello.Environment.IsDebuggerAttached)
        {
            yield return "a debugger is attached to the worker and slows it; start without one, or add --insist to measure all the same.";
        }

        if (hello.Environment.IsProfilerAttached)
        {
            yield return "a profiler is attached to the worker (CORECLR_ENABLE_PROFILING is 1) and slows it; unset that, or add --insist to measure all the same.";
        }
    }
}
