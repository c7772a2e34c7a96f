using System.Diagnostics;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;
using Tachyscope.Working;

namespace Tachyscope.Lab.Tests;

/// <summary>Recipes on a real project, built and run; it prints what it was built as.</summary>
public sealed class RecipeTests : IDisposable
{
    private readonly LampsProject _lamps = new();

    public void Dispose() => _lamps.Dispose();

    [Theory]
    [InlineData("net8.0,define=FOG,define=STORM,property:Note=\"a, b; c\"", ".NETCoreApp,Version=v8.0 8 fog and storm a, b; c False")]
    [InlineData("net10.0,framework=net9.0,optimize=off,ready-to-run", ".NETCoreApp,Version=v9.0 10 clear calm True")]
    public async Task A_recipe_goes_over_the_project_and_leaves_it_alone(string recipe, string printed)
    {
        var target = Assert.Single(TargetParser.Parse([recipe], new Dictionary<string, string>()).Targets);
        var before = Directory.GetFileSystemEntries(_lamps.Folder).Length;

        var built = await new ProjectBuilder(_lamps.Cache).BuildAsync(_lamps.Folder, target, CancellationToken.None);

        Assert.True(built.Assembly is not null, string.Join('\n', built.Errors));
        Assert.Equal(printed, await RunAsync(built, target));
        Assert.Equal(before, Directory.GetFileSystemEntries(_lamps.Folder).Length);
    }

    [Fact]
    public async Task What_does_not_compile_on_a_target_is_told_in_the_compilers_words()
    {
        var target = new Target { Name = "old", Language = "7.3" };

        var built = await new ProjectBuilder(_lamps.Cache).BuildAsync(_lamps.Folder, target, CancellationToken.None);

        Assert.Null(built.Assembly);
        Assert.Contains(built.Errors, error => error.Contains("error CS8370", StringComparison.Ordinal)
            || error.Contains("CS8107", StringComparison.Ordinal) || error.Contains("error CS", StringComparison.Ordinal));
    }

    private async Task<string> RunAsync(BuildOutcome built, Target target)
    {
        var runtime = target.Runtime is null
            ? null
            : (await new RuntimeRoots(_lamps.Cache).FindAsync(target.Runtime, CancellationToken.None)).Runtime!;
        string[] version = runtime is null ? [] : ["--fx-version", runtime.Version];
        using var process = Process.Start(new ProcessStartInfo(runtime?.Host
            ?? DotnetHost.Path, ["exec", .. version, built.Assembly!]) { RedirectStandardOutput = true })!;
        return await process.StandardOutput.ReadToEndAsync();
    }
}
