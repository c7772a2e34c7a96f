namespace Tachyscope.Cli.Tests;

/// <summary>The tool on projects that it has to build.</summary>
public sealed class BuildingTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope test ü").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task A_project_is_built_outside_its_folder_and_a_compiler_error_is_passed_on_in_short()
    {
        var project = Project("return await Tachyscope.Studies.RunAsync(args, Tachyscope.Study.Of(\"fog\").Input(\"x\", () => 1).Baseline(\"echo\", x => x));");

        var built = await RunProjectAsync(project, "--within", "1s");
        var again = await RunProjectAsync(project, "--within", "1s");
        await File.WriteAllTextAsync(Path.Combine(_folder, "Program.cs"), "return fog;");
        var broken = await RunProjectAsync(project);

        Assert.True(built.ExitCode == ExitCode.Fine, built.Error);
        Assert.Matches(@"^built in \d+ s, kept for the next run\r?\n", built.Output);
        Assert.Contains("fog · echo · baseline · x: ", built.Output, StringComparison.Ordinal);
        Assert.DoesNotContain("kept for the next run", again.Output, StringComparison.Ordinal);
        Assert.False(Directory.Exists(Path.Combine(_folder, "bin")) || Directory.Exists(Path.Combine(_folder, "obj")));
        Assert.Equal(ExitCode.CouldNotRun, broken.ExitCode);
        Assert.Contains("Program.cs(1,8): error CS0103: The name 'fog' does not exist in the current context", broken.Error,
            StringComparison.Ordinal);
        Assert.Matches("the whole output is in .*build.log", broken.Error);
    }

    [Fact]
    public async Task The_demo_comes_with_the_tool()
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            ["demo", "--only", "decode*", "--within", "1s"], Path.Combine(_folder, "cache"));

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("decode lamp signals · down a tree", output, StringComparison.Ordinal);
    }

    private static Task<(int ExitCode, string Output, string Error)> RunProjectAsync(string project, params string[] options)
        => ToolHere.RunAsync(["run", project, .. options], Path.Combine(Path.GetTempPath(), "tachyscope test cache"));

    private string Project(string program)
    {
        File.WriteAllText(Path.Combine(_folder, "Program.cs"), program);
        var project = Path.Combine(_folder, "Fog.csproj");
        File.WriteAllText(project, $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup><OutputType>Exe</OutputType><TargetFramework>net10.0</TargetFramework></PropertyGroup>
              <ItemGroup><Reference Include="{ToolProcess.Library}" /></ItemGroup>
            </Project>
            """);
        return project;
    }
}
