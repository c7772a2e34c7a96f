using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>How the measured loop reaches the operation.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<CallPath>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum CallPath
{
    /// <summary>Called directly from a loop emitted for it; the compiler may inline it there.</summary>
    Direct,

    /// <summary>Called through its delegate, which leaves up to about a nanosecond in the figure.</summary>
    Delegate,

    /// <summary>Called by an interpreter, which leaves up to 15 ns in the figure.</summary>
    Interpreted,

    /// <summary>A program that is started anew for each call.</summary>
    Started,

    /// <summary>Called through its delegate and awaited; what it leaves for another thread is waited for.</summary>
    Awaited,
}
