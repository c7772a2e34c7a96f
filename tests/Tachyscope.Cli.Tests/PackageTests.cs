using System.Diagnostics;
using Tachyscope.Working;

namespace Tachyscope.Cli.Tests;

/// <summary>The packages as their users meet them: from a folder, in projects outside the repository, on a machine that has nothing else of
/// ours.</summary>
public sealed class PackageTests : IDisposable
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(10);

    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope packages ü").FullName;

    private string Feed => Path.Combine(_folder, "feed");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task From_an_empty_folder_to_an_answer_and_to_a_study_of_ones_own()
    {
        await PackAsync();
        // Without more of the machine's own than where packages are served.
        await File.WriteAllTextAsync(Path.Combine(_folder, "nuget.config"),
            $"<configuration><packageSources><add key=\"feed\" value=\"{Feed}\" /></packageSources></configuration>");
        var tool = Path.Combine(_folder, "tools", "tachyscope");

        await DotnetAsync("tool", "install", "Tachyscope.Tool", "--tool-path", Path.GetDirectoryName(tool)!, "--add-source", Feed);
        var answer = await RunAsync(tool, "try", "n + n", "n * 2", "--input", "n = 5", "--within", "1s");
        await RunAsync(tool, "new", "lamps");
        var byHand = await DotnetInAsync("lamps", "run", "-c", "Release", "--", "--within", "1s");
        var byTool = await RunAsync(tool, "run", "lamps", "--within", "1s");

        Assert.Contains(" · n = 5: ", answer, StringComparison.Ordinal);
        Assert.All((string[])[byHand, byTool],
            output => Assert.Contains(" · 1,000 flashes: ", output, StringComparison.Ordinal));
        Assert.DoesNotContain("Tachyscope.Cli.dll",
            Directory.EnumerateFiles(Path.Combine(_folder, "lamps", "bin"), "*", SearchOption.AllDirectories).Select(Path.GetFileName));

        await RunAsync(tool, "new", "fog.cs");
        Assert.Contains(" · 10 flashes: ", await DotnetAsync("run", "fog.cs", "--", "--within", "1s"),
            StringComparison.Ordinal);

        Assert.Contains(" · 10 flashes: ", await RunAsync(tool, "run", "fog.cs", "--within", "1s"), StringComparison.Ordinal);

        await DotnetAsync("new", "tool-manifest");
        await DotnetAsync("tool", "install", "Tachyscope.Tool", "--add-source", Feed);
        Assert.Equal(Tool.Version, (await DotnetAsync("tachyscope", "--version")).Trim().Split('+')[0]);

        var once = await DotnetAsync("tool", "exec", "Tachyscope.Tool", "--yes", "--source", Feed, "--", "--version");
        Assert.Contains(Tool.Version, once, StringComparison.Ordinal);

        await DotnetAsync("new", "install", Path.Combine(Feed, $"Tachyscope.Templates.{Tool.Version}.nupkg"));
        await DotnetAsync("new", "tachyscope-study", "-o", "buoys");
        Assert.Equal(
            await File.ReadAllTextAsync(Path.Combine(_folder, "lamps", "Program.cs")),
                await File.ReadAllTextAsync(Path.Combine(_folder, "buoys", "Program.cs")));
        Assert.Contains($"Version=\"{Tool.Version}\"", await File.ReadAllTextAsync(Path.Combine(_folder, "buoys", "buoys.csproj")),
            StringComparison.Ordinal);
        await DotnetAsync("new", "tachyscope-file", "-n", "beacons");
        Assert.Equal(
            await File.ReadAllTextAsync(Path.Combine(_folder, "fog.cs")),
            await File.ReadAllTextAsync(Path.Combine(_folder, "beacons.cs")));
        await DotnetInAsync("buoys", "build", "-c", "Release", "-f", "net8.0", "-p:TargetFrameworks=net8.0", "-p:TargetFramework=",
            "-p:UseAppHost=false");
    }

    // What was built for the tests, in the plain form that needs no compiler of another kind.
    private async Task PackAsync()
    {
        var output = Path.GetDirectoryName(typeof(PackageTests).Assembly.Location)!;
        var root = Path.GetFullPath(Path.Combine(output, "..", "..", "..", ".."));
        var configuration = Path.GetFileName(output) == "release" ? "Release" : "Debug";
        await DotnetAsync("pack", root, "--no-build", "-c", configuration, "-p:Plain=true", "-o", Feed);
        Assert.Equal(
            ["Tachyscope", "Tachyscope.Analysis", "Tachyscope.History", "Tachyscope.Lab", "Tachyscope.Runs", "Tachyscope.Templates",
                "Tachyscope.Testing", "Tachyscope.Tool"],
            Directory.GetFiles(Feed,
                "*.nupkg").Select(file
                => Path.GetFileName(file).Replace($".{Tool.Version}.nupkg", "", StringComparison.Ordinal)).Order(StringComparer.Ordinal));
    }

    private Task<string> DotnetAsync(params string[] arguments) => RunInAsync("", DotnetHost.Path, arguments);

    private Task<string> DotnetInAsync(string folder, params string[] arguments) => RunInAsync(folder, DotnetHost.Path, arguments);

    private Task<string> RunAsync(string command, params string[] arguments) => RunInAsync("", command, arguments);

    private async Task<string> RunInAsync(string folder, string command, string[] arguments)
    {
        var start = new ProcessStartInfo(command, arguments)
        {
            WorkingDirectory = Path.Combine(_folder, folder),
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["NUGET_PACKAGES"] = Path.Combine(_folder, "packages");
        start.Environment["DOTNET_CLI_HOME"] = Path.Combine(_folder, "home");
        start.Environment["TACHYSCOPE_CACHE"] = Path.Combine(_folder, "cache");
        start.Environment["DOTNET_ROOT"] = Path.GetDirectoryName(DotnetHost.Path);
        start.Environment["DOTNET_NOLOGO"] = "1";
        using var process = Process.Start(start)!;
        using var timer = new CancellationTokenSource(Longest);
        var error = process.StandardError.ReadToEndAsync(timer.Token);
        var output = await process.StandardOutput.ReadToEndAsync(timer.Token);
        await process.WaitForExitAsync(timer.Token);
        Assert.True(process.ExitCode == 0, $"{command} {string.Join(' ', arguments)}\n{output}\n{await error}");
        return output;
    }
}
