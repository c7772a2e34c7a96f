using System.Diagnostics;
using Tachyscope.Working;

namespace Tachyscope.Cli.Tests;

/// <summary>The commands of the guide do what it says, one after the other, in a folder that was empty.</summary>
public sealed class GuideTests : IDisposable
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(5);
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope guide ü").FullName;

    private static string Guide => Path.Combine(AppContext.BaseDirectory, "guide");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task Every_command_runs_and_ends_as_it_says()
    {
        Assert.SkipWhen(OperatingSystem.IsWindows(), "The guide's commands are written for a Unix shell.");
        var commands = Pages().SelectMany(Commands).ToList();

        Assert.InRange(commands.Count, 12, 40);
        foreach (var command in commands)
        {
            var expected = command.Contains("# exit code 1", StringComparison.Ordinal) ? 1 : 0;
            var (exitCode, output) = await RunAsync(command);
            Assert.True(exitCode == expected, $"{command}\nended with {exitCode}:\n{output}");
            Assert.NotEmpty(output);
        }

        Assert.All((string[])["lamps.cs", "lamps/lamps.csproj", "lamps.json", "lamps.html", "lamps.contrasts.svg", "lamps.md", "lamps.csv"],
            file => Assert.True(File.Exists(Path.Combine(_folder, file)), file));
    }

    [Fact]
    public void Its_pages_lead_from_one_to_the_next_and_every_link_leads_somewhere()
    {
        var pages = Pages().Append(Path.Combine(Guide, "README.md")).ToList();
        var links = pages.SelectMany(page => System.Text.RegularExpressions.Regex.Matches(File.ReadAllText(page), @"\]\(([^)#]+)")
            .Select(link => link.Groups[1].Value))
            .Where(link => !link.StartsWith("..", StringComparison.Ordinal)).Distinct();

        Assert.Equal(Pages().Select(Path.GetFileName).Append("README.md").Order(), links.Order());
    }

    // In the order of their numbers.
    private static IEnumerable<string> Pages()
        => Directory.GetFiles(Guide, "*-*.md")
            .OrderBy(page => int.Parse(Path.GetFileName(page).Split('-')[0], System.Globalization.CultureInfo.InvariantCulture));

    private static IEnumerable<string> Commands(string page)
        => File.ReadAllText(page).Split("```sh\n").Skip(1)
            .SelectMany(block => block.Split("```")[0].Split('\n', StringSplitOptions.RemoveEmptyEntries));

    private async Task<(int ExitCode, string Output)> RunAsync(string command)
    {
        var start = new ProcessStartInfo("bash",
            ["-c", $"tachyscope() {{ \"{DotnetHost.Path}\" exec \"{ToolProcess.Tool}\" \"$@\"; }}\n{command}\n"])
        {
            RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = _folder,
        };
        start.Environment["TACHYSCOPE_CACHE"] = Path.Combine(_folder, "cache");
        using var process = Process.Start(start)!;
        using var longest = new CancellationTokenSource(Longest);
        var (output, error) = (process.StandardOutput.ReadToEndAsync(longest.Token), process.StandardError.ReadToEndAsync(longest.Token));
        await process.WaitForExitAsync(longest.Token);
        return (process.ExitCode, await output + await error);
    }
}
