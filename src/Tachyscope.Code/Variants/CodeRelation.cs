namespace Tachyscope.Code.Variants;

/// <summary>How two codes stand to each other.</summary>
public enum CodeRelation
{
    /// <summary>They differ in what the C# compiler made of them, or nothing can be told.</summary>
    Different,

    /// <summary>The C# compiler made the same of them, and the runtime something else.</summary>
    SameIl,

    /// <summary>They are the same machine code.</summary>
    Same,
}
