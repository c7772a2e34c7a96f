namespace Tachyscope.Analysis.Reasons;

/// <summary>What a measurement without a possible reason says of it.</summary>
public enum ProbeVerdict
{
    /// <summary>There was no such measurement.</summary>
    NotTested,

    /// <summary>It says nothing yet.</summary>
    Unclear,

    /// <summary>The difference got smaller, as it would if the reason were right.</summary>
    Supported,

    /// <summary>The difference stayed.</summary>
    NotSupported,
}
