using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>How the runtime compiled a version of a method.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<CodeTier>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum CodeTier
{
    /// <summary>The runtime does not say.</summary>
    Unknown,

    /// <summary>Without optimisation, as asked by the build or an attribute.</summary>
    Unoptimised,

    /// <summary>Optimised at once, without a profile, as asked by an attribute or since it has loops.</summary>
    OptimisedAtOnce,

    /// <summary>Quickly and without optimisation, to begin with (tier 0).</summary>
    Quick,

    /// <summary>Optimised after enough calls (tier 1).</summary>
    Optimised,

    /// <summary>Optimised while a loop of it was running (on-stack replacement).</summary>
    OptimisedInLoop,

    /// <summary>With counters that gather a profile (instrumented tier).</summary>
    Profiling,

    /// <summary>Optimised, with counters that gather a profile.</summary>
    OptimisedProfiling,

    /// <summary>Compiled when the assembly was built (ready to run).</summary>
    BuiltAhead,
}
