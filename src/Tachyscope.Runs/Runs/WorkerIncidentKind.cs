using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>What can befall a worker beside its readings.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<WorkerIncidentKind>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum WorkerIncidentKind
{
    /// <summary>It was ended from outside, and another was started in its place.</summary>
    Replaced,

    /// <summary>Processes that an operation had started went on when it ended; they were ended.</summary>
    LeftProcesses,
}
