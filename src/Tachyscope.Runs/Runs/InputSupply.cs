using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Which input a call of the measured loop gets.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<InputSupply>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum InputSupply
{
    /// <summary>The same one at every call.</summary>
    Same,

    /// <summary>One of a row of inputs in turn: fresh ones for operations that change theirs, or the kinds of a mix.</summary>
    Each,
}
