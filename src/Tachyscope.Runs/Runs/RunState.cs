using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>How far a run got.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<RunState>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum RunState
{
    /// <summary>Still being measured, or cut off without notice.</summary>
    Running,

    /// <summary>Measured to its end.</summary>
    Complete,

    /// <summary>Ended early by the user; holds what was measured until then.</summary>
    Interrupted,
}
