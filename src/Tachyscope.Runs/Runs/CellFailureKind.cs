using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Why a cell has no figures.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<CellFailureKind>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum CellFailureKind
{
    /// <summary>Its answer is not the baseline's.</summary>
    Disagrees,

    /// <summary>It threw an exception.</summary>
    Threw,

    /// <summary>Its worker process ended while it ran.</summary>
    Died,

    /// <summary>It gave no answer within the patience of the run.</summary>
    Hung,

    /// <summary>It opened a stage and did not close it, or not in order.</summary>
    LeftStageOpen,

    /// <summary>Its guest could not be built or started.</summary>
    NotBuilt,

    /// <summary>The target has no such variant.</summary>
    Missing,
}
