using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>What can be looked at in a process of its own, apart from readings.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<DiagnosisKind>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum DiagnosisKind
{
    /// <summary>The first call in a process in which nothing of the study ran before.</summary>
    FirstCall,

    /// <summary>The types an operation allocates.</summary>
    Types,

    /// <summary>The versions of its method that the runtime makes, by tier.</summary>
    Code,

    /// <summary>The bytes that what was prepared keeps in use.</summary>
    Retained,

    /// <summary>What the processor's own counters say of a call.</summary>
    Counters,
}
