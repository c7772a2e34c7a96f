using System.Diagnostics;
using System.Globalization;

namespace Tachyscope.Bench;

/// <summary>
/// Searches of sixty commits, each of which changes the code: how often the tool names the one that made an everyday operation slower,
/// and how often another.
/// </summary>
internal static class PinpointBench
{
    private const int UsualHunts = 20;
    private const int Commits = 60;
    private const double LeastRight = 19.0 / 20;

    // What the slower commit does again, of the words it looks up.
    private const int Words = 200;
    private const int Again = Words / 10;

    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(20);

    /// <param name="tool">Path of the tool's assembly.</param>
    /// <param name="hunts">How many; 20 when 0.</param>
    public static async Task<int> RunAsync(string tool, int hunts)
    {
        var count = hunts == 0 ? UsualHunts : hunts;
        var (right, wrong) = (0, 0);
        for (var hunt = 0; hunt < count; hunt++)
        {
            var folder = Directory.CreateTempSubdirectory("tachyscope-bench").FullName;
            try
            {
                var changed = new Random(hunt + 1).Next(1, Commits + 1);
                await MakeAsync(folder, changed, Path.Combine(Path.GetDirectoryName(tool)!, "kit", "net8.0", "Tachyscope.dll"));
                var begun = Stopwatch.GetTimestamp();
                var output = await RunAsync("dotnet", folder,
                    ["exec", tool, "pinpoint", $"HEAD~{Commits}", "HEAD", Path.Combine(folder, "study"), "--plain"], folder);
                // What is said beside the answer stands in lines of its own.
                var answer = Array.Find(output.Split('\n'), line => line.StartsWith("words · ", StringComparison.Ordinal)
                    && line.Contains(": \"commit", StringComparison.Ordinal)) ?? "";
                var isRight = answer.EndsWith($"\"commit {changed}\"", StringComparison.Ordinal);
                right += isRight ? 1 : 0;
                wrong += isRight || answer.Length == 0 ? 0 : 1;
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{hunt + 1,3}  {(isRight ? "right" : "NOT")}: commit {changed}, in "
                        + $"{Stopwatch.GetElapsedTime(begun).TotalSeconds:0} s"));
                Console.WriteLine($"     {output.TrimEnd().Replace("\n", "\n     ", StringComparison.Ordinal)}");
            }
            finally
            {
                Directory.Delete(folder, recursive: true);
            }
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"of {count} searches {right} named the right commit, {wrong} another, and {count - right - wrong} none"));
        return right >= LeastRight * count ? 0 : 1;
    }

    private static async Task MakeAsync(string folder, int changed, string library)
    {
        Directory.CreateDirectory(Path.Combine(folder, "study"));
        await File.WriteAllTextAsync(Path.Combine(folder, "study", "Study.csproj"), $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup>
                <OutputType>Exe</OutputType><TargetFramework>net10.0</TargetFramework><ImplicitUsings>enable</ImplicitUsings>
              </PropertyGroup>
              <ItemGroup><Compile Include="../Signals.cs" /><Reference Include="{library}" /></ItemGroup>
            </Project>
            """);
        await File.WriteAllTextAsync(Path.Combine(folder, "study", "Program.cs"), """
            using Tachyscope;
            return await Studies.RunAsync(args, Study.Of("words").Input("a day of signals", () => new Signals())
                .Baseline("walk", signals => signals.Walk())
                .Variant("lookup", signals => signals.Lookup()));
            """);
        await RunAsync("git", folder, ["init", "-q", "-b", "main", "."], folder);
        for (var number = 0; number <= Commits; number++)
        {
            // Each commit is other code, as commits are, and one of them slower.
            await File.WriteAllTextAsync(Path.Combine(folder, "Signals.cs"), string.Create(CultureInfo.InvariantCulture, $$"""
                public sealed class Signals
                {
                    public const int Number = {{number}};
                    private readonly string[] _words = [.. Enumerable.Range(0, {{Words}}).Select(number => $"signal {number * 37 % 97}")];
                    private readonly Dictionary<string, int> _lengths = [];
                    private int _sink;
                    public Signals() { foreach (var word in _words) { _lengths[word] = word.Length; } }
                    public int Unused{{number}}() => _sink * {{number}};
                    public int Walk() { var sum = 0; foreach (var word in _words) { sum += word.Length; } return sum; }
                    public int Lookup()
                    {
                        var sum = 0;
                        foreach (var word in _words) { sum += _lengths[word]; }
                        for (var index = 0; index < {{(number < changed ? 0 : Again)}}; index++) { _sink += _lengths[_words[index]]; }
                        return sum;
                    }
                }

                """));
            await RunAsync("git", folder, ["add", "-A"], folder);
            await RunAsync("git", folder, ["-c", "user.name=Keeper", "-c", "user.email=keeper@example.org", "commit", "-q", "-m",
                string.Create(CultureInfo.InvariantCulture, $"commit {number}")], folder);
        }
    }

    private static async Task<string> RunAsync(string command, string folder, string[] arguments, string cache)
    {
        var start = new ProcessStartInfo(command, arguments) { WorkingDirectory = folder, RedirectStandardOutput = true };
        start.Environment["TACHYSCOPE_CACHE"] = Path.Combine(cache, "cache");
        using var process = Process.Start(start)!;
        using var timer = new CancellationTokenSource(Longest);
        try
        {
            var output = await process.StandardOutput.ReadToEndAsync(timer.Token);
            await process.WaitForExitAsync(timer.Token);
            return output;
        }
        finally
        {
            if (!process.HasExited)
            {
                process.Kill(entireProcessTree: true);
            }
        }
    }
}
