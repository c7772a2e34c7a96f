using Tachyscope.Storing;

namespace Tachyscope.Cli.Tests;

public sealed class ExampleTests : IDisposable
{
    // What was found hangs on the machine, and how many figures that takes.
    private const string Line = "(?m)^sum of tide levels of int, 4,096 levels, (four sums|vectors): (Faster|Unclear|Slower|Same), "
        + @"\S+ of the baseline's time \(\S+ to \S+\)";
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope example ü").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task A_program_measures_a_project_and_reads_a_saved_run()
    {
        var saved = Path.Combine(_folder, "run.json");
        var measured = await ToolProcess.RunAsync([ToolProcess.FromCode, ToolProcess.Demo, "*of int"]);
        var tool = await ToolHere.RunAsync("run", ToolProcess.Demo, "--only", "*of int", "--within", "2s", "--out", saved);
        var read = await ToolProcess.RunAsync([ToolProcess.FromCode, saved]);
        var nothing = await ToolProcess.RunAsync([ToolProcess.FromCode, Path.Combine(_folder, "fog.csproj")]);

        Assert.True((measured.ExitCode, tool.ExitCode, read.ExitCode) == (0, 0, 0), measured.Error + tool.Error + read.Error);
        Assert.Matches(Line, measured.Output);
        Assert.Matches(Line, read.Output);
        Assert.StartsWith("tachyscope run ", RunFile.Read(saved).Command, StringComparison.Ordinal);
        Assert.DoesNotContain("--out", RunFile.Read(saved).Command, StringComparison.Ordinal);
        Assert.Equal(3, nothing.ExitCode);
        Assert.NotEmpty(nothing.Error);
    }
}
