namespace Tachyscope.Lab.Guests;

/// <summary>What the build of a guest is made of.</summary>
/// <param name="Source">Whole path of its source file.</param>
/// <param name="Command">The compiler or runtime, with its flags.</param>
/// <param name="Kit">Folder of its language's kit.</param>
/// <param name="Folder">Folder it is built in.</param>
internal sealed record GuestBuild(string Source, GuestCommand Command, string Kit, string Folder)
{
    /// <summary>A name of its own among all builds.</summary>
    public string Name => $"guest-{Path.GetFileName(Folder)}";

    /// <summary>A folder that it shares with builds of the same compiler and flags, for what they have in common.</summary>
    public required string Shared { get; init; }

    /// <summary>A path in the folder it is built in.</summary>
    public string InFolder(string name) => Path.Combine(Folder, name);
}

/// <summary>One command of a build.</summary>
/// <param name="Program">What is started.</param>
/// <param name="Arguments">What is handed to it.</param>
internal sealed record GuestStep(string Program, IReadOnlyList<string> Arguments)
{
    /// <summary>Variables of its environment.</summary>
    public IReadOnlyList<(string Name, string Value)> Variables { get; init; } = [];
}

/// <summary>What starts a guest's worker.</summary>
/// <param name="Program">What is started.</param>
/// <param name="Arguments">What is handed to it.</param>
internal sealed record GuestStart(string Program, IReadOnlyList<string> Arguments)
{
    /// <summary>Variables of its environment.</summary>
    public IReadOnlyList<(string Name, string Value)> Variables { get; init; } = [];

    /// <summary>Whether it is a program of machine code.</summary>
    public bool IsProgram { get; init; }
}
