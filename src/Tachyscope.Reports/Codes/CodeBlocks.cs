namespace Tachyscope.Reports.Codes;

/// <summary>What of a variant's code can be shown.</summary>
public static class CodeBlocks
{
    /// <summary>The word for C# as the compiler wrote it out.</summary>
    public const string Lowered = "lowered";

    /// <summary>The word for the runtime's instructions.</summary>
    public const string Il = "il";

    /// <summary>The word for the processor's instructions.</summary>
    public const string Machine = "machine";

    /// <summary>The word for the loop it is measured in.</summary>
    public const string Loop = "loop";

    /// <summary>The word for what the runtime's compiler put in and left out.</summary>
    public const string Inlining = "inlining";

    /// <summary>All the words, in the order in which they are shown.</summary>
    public static IReadOnlyList<string> Words { get; } = [Lowered, Il, Machine, Loop, Inlining];
}
