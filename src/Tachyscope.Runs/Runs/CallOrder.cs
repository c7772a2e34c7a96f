using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Whether a call waits for the one before.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<CallOrder>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum CallOrder
{
    /// <summary>Each call waits for the last one's result: how long one call takes.</summary>
    Chained,

    /// <summary>The processor may work on several calls side by side: how many calls it gets done.</summary>
    Overlapped,
}
