using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using MathNet.Numerics.Statistics;

namespace Tachyscope.Bench;

/// <summary>
/// How long after Enter <c>try</c> shows a first figure, a right verdict on 5 %, and all: in a terminal of its own, as a person has it.
/// </summary>
internal static partial class TryBench
{
    private const double MostFirst = 2;
    private const double MostVerdict = 5;

    // The same chain, 1,000 turns of it and 1,050; their answers agree.
    private static readonly string[] Code = [Chain(1_000), Chain(1_050)];

    public static async Task<int> RunAsync(string tool, int runs)
    {
        List<(double First, double Verdict, double All)> anew = [], again = [];
        for (var run = 0; run < Math.Max(1, runs); run++)
        {
            // Never compiled before, then as it was just compiled.
            var given = string.Create(CultureInfo.InvariantCulture, $"var start = {Environment.TickCount & 0xFFFFFF};");
            anew.Add(await TakeAsync(tool, given));
            again.Add(await TakeAsync(tool, given));
        }

        var isHeld = Told("compiled anew", anew);
        return Told("compiled before", again) && isHeld ? 0 : 1;
    }

    private static bool Told(string what, List<(double First, double Verdict, double All)> found)
    {
        double Median(Func<(double First, double Verdict, double All), double> part) => found.Select(part).Median();
        var (first, verdict, all) = (Median(part => part.First), Median(part => part.Verdict), Median(part => part.All));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what}: first figure after {first:0.0} s (goal {MostFirst:0} s), "
                + $"5 % told apart after {verdict:0.0} s (goal {MostVerdict:0} s), "
                + $"all after {all:0.0} s; medians of {found.Count}"));
        return first <= MostFirst && verdict <= MostVerdict;
    }

    private static async Task<(double First, double Verdict, double All)> TakeAsync(string tool, string given)
    {
        string[] words = [tool, "try", .. Code, "--given", given];
        var command = string.Join(' ', words.Select(word => $"'{word}'"));
        var begun = Stopwatch.GetTimestamp();
        using var terminal = Process.Start(new ProcessStartInfo("script", ["-qfec", command, "/dev/null"])
        {
            RedirectStandardInput = true, RedirectStandardOutput = true, UseShellExecute = false,
            Environment = { ["TERM"] = "xterm-256color", ["COLUMNS"] = "140", ["LINES"] = "40" },
        })!;
        var (first, verdict) = (double.NaN, double.NaN);
        var (seen, buffer) = (new StringBuilder(), new char[65_536]);
        while (await terminal.StandardOutput.ReadAsync(buffer) is > 0 and var read)
        {
            var now = Stopwatch.GetElapsedTime(begun).TotalSeconds;
            seen.Append(buffer, 0, read);
            var text = seen.ToString();
            first = double.IsNaN(first) && Figure().IsMatch(text) ? now : first;
            verdict = double.IsNaN(verdict) && text.Contains("slower", StringComparison.Ordinal) ? now : verdict;
        }

        await terminal.WaitForExitAsync();
        return terminal.ExitCode == 0 ? (first, verdict, Stopwatch.GetElapsedTime(begun).TotalSeconds)
            : throw new InvalidOperationException($"{command} ended with {terminal.ExitCode}: {seen}");
    }

    private static string Chain(int turns) => string.Create(CultureInfo.InvariantCulture,
        $"var all = start; for (var i = 0; i < {turns}; i++) all = all * 31 + i; return all == 1 ? 1 : 0;");

    [GeneratedRegex(@"\d [nµ]s")]
    private static partial Regex Figure();
}
