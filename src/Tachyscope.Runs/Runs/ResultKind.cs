using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>What an operation answers with, as far as the measured loop differs by it.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<ResultKind>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum ResultKind
{
    /// <summary>An integer, in a register.</summary>
    WholeNumber,

    /// <summary>Yes or no: which of them, the processor may guess and begin the next call.</summary>
    YesOrNo,

    /// <summary>A number with a fraction, in a floating-point register.</summary>
    FloatingPoint,

    /// <summary>An object of a class whose fields are known.</summary>
    Reference,

    /// <summary>A text, an array, or an object of a type that tells nothing of its fields.</summary>
    Opaque,

    /// <summary>A structure, through memory.</summary>
    Structure,

    /// <summary>A span.</summary>
    Span,

    /// <summary>A sequence that is enumerated in the timing, because it may be evaluated only then.</summary>
    Enumerated,

    /// <summary>Nothing.</summary>
    None,
}
