using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>What a cell of a sitting measures.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<CellKind>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum CellKind
{
    /// <summary>A variant on an input: what the user asked about.</summary>
    Variant,

    /// <summary>The baseline once more, emitted again and with its input built again: shows what the run cannot tell apart.</summary>
    Twin,

    /// <summary>The same loop around an operation that returns its input: the cost of the loop.</summary>
    Identity,

    /// <summary>Fixed work of known cost: how fast the machine is running at that moment.</summary>
    Metronome,

    /// <summary>Fixed work that fills the processor's units; in files written before the gauge was read beside every reading.</summary>
    Breadth,
}
