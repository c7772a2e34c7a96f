namespace Tachyscope.Lab.Targets;

/// <summary>Where a study is measured: how it is built and what it runs on.</summary>
public sealed record Target
{
    /// <summary>What it is called: its name, or the recipe as it was written.</summary>
    public required string Name { get; init; }

    /// <summary>Runtime, as a line such as "net8.0" or an exact version such as "8.0.31"; null for the one the assembly asks for.</summary>
    public string? Runtime { get; init; }

    /// <summary>Framework it is compiled for, such as "net8.0"; null for the newest the project names that the runtime can run.</summary>
    public string? Framework { get; init; }

    /// <summary>Whether it is compiled ahead of time into a program of its own.</summary>
    public bool IsAheadOfTime { get; init; }

    /// <summary>
    /// Instruction set to compile ahead of time for, such as "x86-64-v3"; null for what this machine's just-in-time compiler would use.
    /// </summary>
    public string? Instructions { get; init; }

    /// <summary>Whether its assemblies carry code compiled ahead beside what the runtime compiles.</summary>
    public bool IsReadyToRun { get; init; }

    /// <summary>Whether what it does not use is trimmed away.</summary>
    public bool IsTrimmed { get; init; }

    /// <summary>Runtime switches, without their DOTNET_ prefix.</summary>
    public IReadOnlyDictionary<string, string> Switches { get; init; } = new Dictionary<string, string>();

    /// <summary>C# language version; null for the project's.</summary>
    public string? Language { get; init; }

    /// <summary>Version of the C# compiler; null for the SDK's.</summary>
    public string? Compiler { get; init; }

    /// <summary>Whether the compiler optimises; true by default.</summary>
    public bool IsOptimized { get; init; } = true;

    /// <summary>Symbols defined beside the project's own.</summary>
    public IReadOnlyList<string> Defines { get; init; } = [];

    /// <summary>MSBuild properties set over the project's own.</summary>
    public IReadOnlyDictionary<string, string> Properties { get; init; } = new Dictionary<string, string>();

    /// <summary>Versions of packages in place of those the project references.</summary>
    public IReadOnlyDictionary<string, string> Packages { get; init; } = new Dictionary<string, string>();

    /// <summary>Revision of the project's git repository; null for the work tree as it is.</summary>
    public string? Revision { get; init; }

    /// <summary>
    /// Revision whose study project is laid over <see cref="Revision"/>, "now" for the work tree as it is; null for the study of the
    /// revision itself.
    /// </summary>
    public string? Study { get; init; }

    /// <summary>Folder to take the project from; null for its own.</summary>
    public string? Folder { get; init; }
}
