using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Which part of a variant is measured.</summary>
[JsonConverter(typeof(CamelCaseEnumConverter<VariantPart>))]
#if STUDY_SIDE
internal
#else
public
#endif
enum VariantPart
{
    /// <summary>All of it.</summary>
    Whole,

    /// <summary>What it prepares once.</summary>
    Prepare,

    /// <summary>One use of what it prepared.</summary>
    Use,
}
