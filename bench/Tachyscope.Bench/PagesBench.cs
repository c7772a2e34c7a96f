using System.Diagnostics;
using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Analysis.Tests;
using Tachyscope.Exports;
using Tachyscope.Storing;

namespace Tachyscope.Bench;

/// <summary>How large the page of a run is, and how long it takes to be written and to be opened beside an empty one.</summary>
internal static class PagesBench
{
    private const int Opened = 3;
    private const double MostBytes = 3e6;
    private const double MostSeconds = 2;
    private static readonly string[] Browsers = ["/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

    public static async Task<int> RunAsync()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope pages").FullName;
        try
        {
            var empty = Path.Combine(folder, "empty.html");
            await File.WriteAllTextAsync(empty, "<!doctype html><title>empty</title>");
            var nothing = Open(empty, folder);
            var isFine = true;
            foreach (var (variants, sizes) in ((int, int)[])[(3, 1), (10, 10), (30, 10), (100, 10)])
            {
                var (path, seconds) = await WriteAsync(folder, variants, sizes);
                var (bytes, opened) = (new FileInfo(path).Length, Open(path, folder) - nothing);
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{variants * sizes,5} cells: {bytes / 1e6:0.00} MB, written in {seconds:0.00} s, opened {opened:0.00} s later than "
                        + $"an empty page"));
                isFine &= (variants * sizes > 100 || bytes <= MostBytes) && !(opened > MostSeconds);
            }

            return isFine ? 0 : 1;
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static async Task<(string Path, double Seconds)> WriteAsync(string folder, int variants, int sizes)
    {
        var run = new RunSimulator
        {
            Sizes = [.. Enumerable.Range(4, sizes).Select(power => 1 << power)], Times = new double[variants], Bytes = new long[variants],
                Rounds = 60,
            TimeAt = (variant, size) => 50 + variant + (size * (1 + (variant % 7))),
        }.Make(1);
        var export = new Export(run, [.. run.Studies.Select(study => TargetAnalyst.Examine(run, study, AnalysisOptions.Default))]);
        var path = Path.Combine(folder, $"{variants}.html");
        var begin = Stopwatch.GetTimestamp();
        await ExportFile.WriteAsync(export, path, WholeFile.WriteAsync);
        return (path, Stopwatch.GetElapsedTime(begin).TotalSeconds);
    }

    // Seconds until a picture of it is taken, the middle of a few; not a number where there is no browser.
    private static double Open(string page, string folder)
    {
        if (Array.Find(Browsers, File.Exists) is not { } browser)
        {
            return double.NaN;
        }

        double Once()
        {
            var begin = Stopwatch.GetTimestamp();
            using var process = Process.Start(new ProcessStartInfo(browser,
                ["--headless", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage",
                    $"--screenshot={Path.Combine(folder, "page.png")}", new Uri(page).AbsoluteUri])
            {
                RedirectStandardError = true, RedirectStandardOutput = true,
            })!;
            _ = process.StandardError.ReadToEndAsync();
            _ = process.StandardOutput.ReadToEndAsync();
            if (!process.WaitForExit(TimeSpan.FromMinutes(1)))
            {
                process.Kill(entireProcessTree: true);
            }

            return Stopwatch.GetElapsedTime(begin).TotalSeconds;
        }

        return Enumerable.Range(0, Opened).Select(_ => Once()).Order().ElementAt(Opened / 2);
    }
}
