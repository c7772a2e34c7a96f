using System.Diagnostics;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Targets;
using Tachyscope.Working;

namespace Tachyscope.Lab.Tests;

public sealed class RuntimeRootsTests : IDisposable
{
    private const string Installed = "Microsoft.AspNetCore.App 10.0.1 [/lamps]\nMicrosoft.NETCore.App 10.0.1 "
        + "[/lamps]\nMicrosoft.NETCore.App 10.0.11 [/lamps]\n";

    private readonly string _cache = Directory.CreateTempSubdirectory("tachyscope ü").FullName;

    public void Dispose() => Directory.Delete(_cache, recursive: true);

    [Theory]
    [InlineData("net10.0", "10.0.11")]
    [InlineData("10.0.1", "10.0.1")]
    public async Task An_installed_runtime_is_taken_as_it_is_the_newest_of_its_line(string wish, string version)
        => Assert.Equal(new RuntimeOutcome(new FoundRuntime(DotnetHost.Path, version)), await Scripted("")
            .FindAsync(wish, CancellationToken.None));

    [Fact]
    public async Task What_does_not_exist_is_told_with_what_does()
    {
        var roots = Scripted("""{ "searchResult": [ { "sourceName": "a", "packages": [ { "version": "9.0.20" }, { "version": "8.0.5" } ] }, { "sourceName": "silent" } ] }""");

        var found = await roots.FindAsync("net7.0", CancellationToken.None);

        Assert.True(found.IsWrongUse);
        Assert.Equal("there is no runtime net7.0; installed are 10.0.1, 10.0.11, and the registry serves 8.0.5, 9.0.20.", found.Problem);
    }

    [Fact]
    public async Task Without_a_registry_only_what_is_there_can_be_had()
    {
        var found = await Scripted(null).FindAsync("8.0.31", CancellationToken.None);

        Assert.False(found.IsWrongUse);
        Assert.Contains("the runtime 8.0.31 is neither installed nor kept in ", found.Problem, StringComparison.Ordinal);
        Assert.Contains("installed are 10.0.1, 10.0.11.", found.Problem, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_runtime_from_the_registry_is_laid_out_once_and_starts()
    {
        var roots = new RuntimeRoots(_cache);

        var found = (await Task.WhenAll(roots.FindAsync("8.0.31", CancellationToken.None),
            roots.FindAsync("8.0.31", CancellationToken.None)))[1];
        var again = await new RuntimeRoots(_cache).FindAsync("net8.0", CancellationToken.None);

        Assert.True(found.Problem is null, found.Problem);
        Assert.Equal(found, again);
        Assert.Equal(["dotnet", "host", "shared"], Directory.GetFileSystemEntries(Path.Combine(_cache, "runtimes")).Select(Path.GetFileName)
            .Order());
        using var process = Process.Start(new ProcessStartInfo(found.Runtime!.Host,
            ["--list-runtimes"]) { RedirectStandardOutput = true })!;
        Assert.Contains("Microsoft.NETCore.App 8.0.31", await process.StandardOutput.ReadToEndAsync(), StringComparison.Ordinal);
    }

    private RuntimeRoots Scripted(string? search) => new(_cache, (arguments, _) => Task.FromResult(arguments[0] switch
    {
        "--list-runtimes" => new FinishedCommand(0, Installed),
        "package" when search is not null => new FinishedCommand(0, search),
        _ => new FinishedCommand(1, "the registry is dark"),
    }));
}
