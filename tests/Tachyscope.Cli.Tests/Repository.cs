using System.Diagnostics;

namespace Tachyscope.Cli.Tests;

/// <summary>A git repository in a folder of its own, and the tool with a cache beside it.</summary>
public abstract class Repository : IDisposable
{
    public string All { get; } = Directory.CreateTempSubdirectory("tachyscope ü").FullName;

    public string Folder => Path.Combine(All, "Hafen am Ufer");

    public string Study => Path.Combine(Folder, "study");

    public string Saved => Path.Combine(All, "run.json");

    public void Dispose()
    {
        // Git's own files are read-only.
        foreach (var file in Directory.EnumerateFiles(All, "*", SearchOption.AllDirectories))
        {
            File.SetAttributes(file, FileAttributes.Normal);
        }

        Directory.Delete(All, recursive: true);
        GC.SuppressFinalize(this);
    }

    public void Write(string name, string content)
    {
        var path = Path.Combine(Folder, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, content);
    }

    /// <summary>Runs the tool with a cache beside the repository.</summary>
    public Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] arguments)
        => ToolHere.RunAsync([.. arguments, "--plain"], Path.Combine(All, "cache"));

    public string Git(params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("git", ["-C", Folder, .. arguments]) { RedirectStandardOutput = true })!;
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
        return output;
    }

    /// <summary>Begins it, without the filters that this machine's own settings would run for every file.</summary>
    protected void Begin()
    {
        Directory.CreateDirectory(Folder);
        Git("init", "-q", "-b", "main", ".");
        File.WriteAllText(Path.Combine(Folder, ".git", "info", "attributes"), "* -filter\n");
    }

    protected void Commit(string message)
    {
        Git("add", "-A");
        Git("-c", "user.name=Keeper", "-c", "user.email=keeper@example.org", "commit", "-q", "-m", message);
    }
}
