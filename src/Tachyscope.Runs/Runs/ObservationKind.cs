using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>What can be noticed of an operation by calling it a few times.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<ObservationKind>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum ObservationKind
{
    /// <summary>It changes its input, although the study does not say so.</summary>
    ChangesInput,

    /// <summary>It answers with something whose work is done later: a sequence, a task, a function.</summary>
    AnswersLater,

    /// <summary>It answers the same to inputs that differ.</summary>
    IgnoresInput,

    /// <summary>Whether it answers the same on another target cannot be told.</summary>
    NotComparedAcross,
}
