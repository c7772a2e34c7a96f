using System.Diagnostics;

namespace Tachyscope.Cli.Tests;

/// <summary>A repository with a study, a library it measures, and two revisions of both.</summary>
public sealed class SmallRepository : IDisposable
{
    public SmallRepository()
    {
        Write("tides/Tides.cs", "public static class Tides { public static int Sum(int[] levels) => levels.Where(level => level > 0).Select(level => level * 2).Sum(); }");
        Write("study/Study.csproj", $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup><OutputType>Exe</OutputType><TargetFrameworks>net8.0;net10.0</TargetFrameworks><ImplicitUsings>enable</ImplicitUsings></PropertyGroup>
              <ItemGroup><Compile Include="../tides/Tides.cs" /><Reference Include="{ToolProcess.Library}" /></ItemGroup>
            </Project>
            """);
        Write("study/Program.cs", Program("""Study.Of("only old").Input("x", () => 3).Baseline("id", x => x + 1)""", "oldest"));
        Git("init", "-q", "-b", "main", ".");
        Commit("old");
        Write("tides/Tides.cs", """
            public static class Tides
            {
                public static int Sum(int[] levels)
                {
                    var sum = 0;
                    foreach (var level in levels)
                    {
                        sum += level > 0 ? level * 2 : 0;
                    }

                    return sum;
                }
            }
            """);
        Write("study/Program.cs", Program("""Study.Of("only new").Input("x", () => 3).Baseline("id", x => x + 1)""", "newest"));
        Commit("new");
    }

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
    }

    public void Write(string name, string content)
    {
        var path = Path.Combine(Folder, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, content);
    }

    /// <summary>Runs the tool with a cache beside the repository.</summary>
    public Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] arguments)
        => ToolProcess.RunAsync([ToolProcess.Tool, .. arguments, "--plain"], $"TACHYSCOPE_CACHE={Path.Combine(All, "cache")}");

    public string Git(params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("git", ["-C", Folder, .. arguments]) { RedirectStandardOutput = true })!;
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
        return output;
    }

    private void Commit(string tag)
    {
        Git("add", "-A");
        Git("-c", "user.name=Keeper", "-c", "user.email=keeper@example.org", "commit", "-q", "-m", tag);
        Git("tag", tag);
    }

    private static string Program(string other, string row) => $$"""
        using Tachyscope;
        #if BROKEN
        #error Fog on this target.
        #endif
        return await Studies.RunAsync(args,
            Study.Of("sum of tides").Inputs("levels", [64], count => Enumerable.Range(1, count).ToArray())
                .Baseline("sum", levels => Tides.Sum(levels)).Variant("{{row}}", levels => levels[0] - levels[0] + Tides.Sum(levels)),
            {{other}});
        """;
}
