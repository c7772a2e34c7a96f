using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using Tachyscope.Lab.Storing;

namespace Tachyscope.Cli.Tests;

/// <summary>The tool on what spoils figures, and in surroundings that do: the run ends with figures, and says what is wrong with them.</summary>
public sealed class DoubtfulTests : IDisposable
{
    private const int Stop = 19;
    private const int Continue = 18;

    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope test").FullName;

    private string Saved => Path.Combine(_folder, "run.json");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task What_an_operation_does_beside_its_job_is_noticed()
    {
        var (exitCode, output, error) = await RunAsync("doubtful", "24s");

        Assert.True(exitCode == ExitCode.Fine, error);
        (string Caveat, string Subject)[] expected =
        [
            ("input-changed", "sorts, "), ("ignores-input", "is idle, 512 lamps"), ("sleeps", "sleeps, "), ("reads-or-writes", "reads, "), ("allocation-varies", "wastes now and then, "),
            ("does-not-grow", "512 lamps"), ("below-resolution", "is idle, "),
        ];
        Assert.All(expected, pair => Assert.Matches($"caveat {pair.Caveat} – [^\n]*{pair.Subject}", output));
    }

    [Theory]
    [InlineData("changeable", "20s", "", "caveat drifts – grows, a lamp: its time grows by", "caveat two-modes – has moods, a lamp: its rounds fall into two heaps")]
    [InlineData("later", "3s", "DOTNET_EnableAVX2=0", "caveat answers-late – when asked, a lamp: it answers with a sequence", "caveat vectors-narrower – vectors of 128 bits were in use")]
    [InlineData("sound", "3s", "DOTNET_GCHighMemPercent=1", "caveat memory-short – memory in use was")]
    [InlineData("sound", "3s", "CORECLR_ENABLE_PROFILING=1", "caveat profiler-attached")]
    public async Task A_spoilt_study_or_process_is_told(string study, string within, string variable, params string[] expected)
    {
        Assert.SkipUnless(OperatingSystem.IsLinux() && RuntimeInformation.ProcessArchitecture == Architecture.X64, "The surroundings are those of x64 Linux.");
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", study, "--within", within, "--insist"], variable.Length > 0 ? variable : null);

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.All(expected, text => Assert.Contains(text, output, StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_profiler_is_refused_unless_insisted()
    {
        var (exitCode, _, error) = await ToolProcess.RunAsync([ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "sound"], "CORECLR_ENABLE_PROFILING=1");

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains("a profiler is attached to the worker (CORECLR_ENABLE_PROFILING is 1) and slows it; unset that, or add --insist", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task On_one_processor_a_run_ends_and_says_so()
    {
        Assert.SkipUnless(OperatingSystem.IsLinux(), "The processors of a process are chosen with taskset.");
        var (exitCode, output, error) = await ToolProcess.RunOnOneProcessorAsync([ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "sound", "--within", "8s", "--out", Saved]);

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("caveat single-processor", output, StringComparison.Ordinal);
        var sittings = RunFile.Read(Saved).Studies[0].Sittings;
        Assert.True(sittings.Count >= 2);
        // None is warmed beside another.
        Assert.All(sittings.Zip(sittings.Skip(1)), pair => Assert.True(pair.Second.BeganSeconds >= pair.First.EndedSeconds));
    }

    [Fact]
    public async Task A_worker_that_is_suspended_for_a_second_spoils_no_figure_and_is_told()
    {
        Assert.SkipUnless(!OperatingSystem.IsWindows(), "Windows knows no such signal.");
        var (stops, most) = (0, 0);
        var (exitCode, output, error) = await ToolProcess.RunAsync(
            [ToolProcess.Tool, "run", ToolProcess.Mishaps, "--only", "long work", "--within", "24s", "--out", Saved],
            watch: tool =>
            {
                // Two are warmed at once; soon after the first one is done, the other one is being read.
                var workers = Children(tool);
                most = Math.Max(most, workers.Count);
                if (stops < 6 && most >= 2 && workers.Count == 1)
                {
                    (stops, most) = (stops + 1, 0);
                    Thread.Sleep(150);
                    _ = kill(workers[0], Stop);
                    Thread.Sleep(1_000);
                    _ = kill(workers[0], Continue);
                }
            });

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.True(stops > 0);
        Assert.Matches(@"caveat stood-still – the worker was kept from the processor for up to \d\.\d s at once", output);
        var sittings = RunFile.Read(Saved).Studies[0].Sittings;
        Assert.Contains(sittings.SelectMany(sitting => sitting.Readings), reading => reading.ElapsedNanoseconds > 500_000_000);
    }

    [Fact]
    public async Task Apart_and_repeated_comparisons_are_shown_beside_each_other()
    {
        var (exitCode, output, error) = await RunAsync("sound", "30s", "--apart", "--repeat", "2", "--explain", "warmup", "--figures");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.All(
            (string[])["in a process of its own", "repeats", "they differ by", "together, ", " apart", "tier 1 after", "settled after", "twin of the baseline", "metronome", "with compilation"],
            text => Assert.Contains(text, output, StringComparison.Ordinal));
        var sittings = RunFile.Read(Saved).Studies[0].Sittings;
        Assert.Equal([1, 2], sittings.Select(sitting => sitting.Repeat).Distinct().Order());
        var apart = sittings.Where(sitting => sitting.IsApart).ToList();
        Assert.NotEmpty(apart);
        Assert.All(apart, sitting => Assert.Equal(3, sitting.Cells.Select(cell => cell.Worker).Distinct().Count()));
        Assert.All(sittings.Where(sitting => !sitting.IsApart), sitting => Assert.All(sitting.Cells, cell => Assert.Equal(0, cell.Worker)));
    }

    [Theory]
    [InlineData(6)]
    [InlineData(14)]
    public async Task The_time_allowed_is_kept(int seconds)
    {
        var begin = Stopwatch.GetTimestamp();
        var (exitCode, _, error) = await RunAsync("sound", string.Create(CultureInfo.InvariantCulture, $"{seconds}s"));

        Assert.True(exitCode == ExitCode.Fine, error);
        // The promise of 5 % is checked by bench/; a busy test machine gets a wide margin.
        Assert.InRange(Stopwatch.GetElapsedTime(begin).TotalSeconds, seconds * 0.7, seconds * 1.4);
    }

    private Task<(int ExitCode, string Output, string Error)> RunAsync(string study, string within, params string[] options)
        => ToolProcess.RunToolAsync(["run", ToolProcess.Mishaps, "--only", study, "--within", within, "--out", Saved, .. options]);

    private static List<int> Children(int parent)
    {
        try
        {
            return [.. Directory.GetDirectories($"/proc/{parent}/task")
                .SelectMany(task => File.ReadAllText(Path.Combine(task, "children")).Split(' ', StringSplitOptions.RemoveEmptyEntries))
                .Select(child => int.Parse(child, CultureInfo.InvariantCulture))];
        }
        catch (IOException)
        {
            // The tool or one of its threads has just ended.
            return [];
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}
