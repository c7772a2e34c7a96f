using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using MathNet.Numerics.Statistics;

namespace Tachyscope.Bench;

/// <summary>
/// How long after Enter <c>try</c> shows a first figure, a right verdict on 5 %, and all: in a terminal of its own, as a person has it; and
/// how long three variants take in all, beside another build of the tool in turn.
/// </summary>
internal static partial class TryBench
{
    private const double MostFirst = 2;
    private const double MostVerdict = 5;
    private const double MostOfThree = 4;

    // The same chain, 1,000 turns of it and 1,050; their answers agree.
    private static readonly string[] Code = [Chain(1_000), Chain(1_050)];

    private static readonly string[] Three = ["lamps.Max()", "lamps.OrderBy(x => x).Last()", "lamps.Aggregate((a, b) => a > b ? a : b)"];

    public static async Task<int> RunAsync(string tool, int runs, string? other)
    {
        List<(double First, double Verdict, double All)> anew = [], again = [];
        for (var run = 0; run < Math.Max(1, runs); run++)
        {
            // Never compiled before, then as it was just compiled.
            var given = string.Create(CultureInfo.InvariantCulture, $"var start = {Environment.TickCount & 0xFFFFFF};");
            anew.Add(await TakeAsync([tool, "try", .. Code, "--given", given]));
            again.Add(await TakeAsync([tool, "try", .. Code, "--given", given]));
        }

        var isHeld = Told("compiled anew", anew);
        isHeld &= Told("compiled before", again);
        return await TakeThreeAsync(tool, runs, other) && isHeld ? 0 : 1;
    }

    private static async Task<bool> TakeThreeAsync(string tool, int runs, string? other)
    {
        string[] asked = [.. Three, "--given", "var lamps = Enumerable.Range(0, n).ToArray();", "--input", "n = 200"];
        var tools = other is null ? (string[])[tool] : [tool, other];
        var taken = tools.Select(_ => new List<(double All, string Text)>()).ToList();
        for (var run = 0; run <= Math.Max(1, runs); run++)
        {
            for (var turn = 0; turn < tools.Length; turn++)
            {
                var (all, text) = await TakeIntoPipeAsync(tools[turn], ["try", .. asked]);
                if (run > 0)
                {
                    taken[turn].Add((all, text));
                }
            }
        }

        // More are held where contrasts are wide, which is the machine's doing.
        var usual = taken.Select(found => found.Where(one => one.Text.Contains(" 6 sittings", StringComparison.Ordinal))
            .Select(one => one.All).ToList()).ToList();
        for (var turn = 0; turn < tools.Length; turn++)
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"three variants, compiled before, {(turn == 0 ? "the tool" : "the other")}: all after {usual[turn].Median():0.0} s in the "
                    + $"{usual[turn].Count} of {taken[turn].Count} that held six sittings (goal {MostOfThree:0} s), "
                    + $"after {taken[turn].Select(one => one.All).Median():0.0} s in all; medians"));
        }

        if (other is not null)
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"the tool took {usual[0].Median() / usual[1].Median():0.00} of the other's time"));
        }

        return usual[0].Median() <= MostOfThree;
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

    private static async Task<(double First, double Verdict, double All)> TakeAsync(string[] words)
    {
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

    private static async Task<(double All, string Text)> TakeIntoPipeAsync(string tool, string[] words)
    {
        var begun = Stopwatch.GetTimestamp();
        using var process = Process.Start(new ProcessStartInfo(tool, words) { RedirectStandardOutput = true, UseShellExecute = false })!;
        var text = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return process.ExitCode == 0 ? (Stopwatch.GetElapsedTime(begun).TotalSeconds, text)
            : throw new InvalidOperationException($"{tool} ended with {process.ExitCode}: {text}");
    }

    private static string Chain(int turns) => string.Create(CultureInfo.InvariantCulture,
        $"var all = start; for (var i = 0; i < {turns}; i++) all = all * 31 + i; return all == 1 ? 1 : 0;");

    [GeneratedRegex(@"\d [nµ]s")]
    private static partial Regex Figure();
}
