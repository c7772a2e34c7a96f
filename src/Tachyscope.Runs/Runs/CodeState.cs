namespace Tachyscope.Runs;

/// <summary>Which code was measured: where it stood in its repository, and what it was compiled to.</summary>
sealed partial record CodeState
{
    /// <summary>Commit that it was taken from, or that its work tree stood at; null outside a repository.</summary>
    public string? Commit { get; init; }

    /// <summary>Branch that its work tree stood on; null outside a repository and where none was checked out.</summary>
    public string? Branch { get; init; }

    /// <summary>Whether its work tree held changes that were in no commit.</summary>
    public bool IsDirty { get; init; }

    /// <summary>
    /// The same for the same compiled assemblies, the study's and those it brings along: runs that share it measured the same code. Null
    /// where none could be read.
    /// </summary>
    public string? Stamp { get; init; }
}
