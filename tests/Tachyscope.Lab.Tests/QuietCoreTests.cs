using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Storing;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>What the gauge reads on a quiet core, learned from run to run.</summary>
public sealed class QuietCoreTests : IDisposable
{
    private static readonly MachineDescription Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" };
    private static readonly WorkerEnvironment X64 = new() { Runtime = ".NET 10.0.0", Architecture = "x64" };
    private static readonly WorkerEnvironment Arm = new() { Runtime = ".NET 10.0.0", Architecture = "arm64" };
    private readonly string _folder = Directory.CreateTempSubdirectory("gauges ").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void It_is_the_lowest_seen_and_never_more_than_such_a_processor_reads()
    {
        var quiet = new QuietCore([X64, Arm], memory: null);

        Assert.Equal((0, 0), (quiet.LowOf(0), quiet.MostOf(0)));
        quiet.Note(0, 1_270, isSharp: true);
        quiet.Note(0, 1_900, isSharp: false);
        quiet.Note(0, 0, isSharp: false);
        quiet.Note(1, 1_550, isSharp: false);
        Assert.Equal((1_270, 1_460), (quiet.LowOf(0), quiet.MostOf(0)));
        Assert.Equal(1_550, quiet.LowOf(1));
        // Shared from its first moment to its last, as far as it knows.
        var shared = new QuietCore([X64], memory: null);
        shared.Note(0, 2_100, isSharp: false);
        Assert.Equal(1_350, shared.LowOf(0));
        // A processor that reads more, and always the same.
        var narrow = new QuietCore([X64], memory: null);
        narrow.Note(0, 1_800, isSharp: true);
        Assert.Equal(1_800, narrow.LowOf(0));
    }

    [Fact]
    public void Another_run_remembers_and_what_is_never_seen_again_is_forgotten_slowly()
    {
        new QuietCore([X64], new GaugeFile(_folder, Machine)).Note(0, 1_200, isSharp: true);

        Assert.Equal(1_200, new QuietCore([X64], new GaugeFile(_folder, Machine)).LowOf(0));
        Assert.Equal(0, new QuietCore([Arm], new GaugeFile(_folder, Machine)).LowOf(0));
        Assert.Equal(0, new QuietCore([X64], new GaugeFile(_folder, Machine with { Processor = "Buoy" })).LowOf(0));
        var memory = new GaugeFile(_folder, Machine);
        memory.Keep(X64, 1_300);
        Assert.Equal(1_212, memory.Find(X64));
        for (var run = 0; run < 20; run++)
        {
            memory.Keep(X64, 1_300);
        }

        Assert.Equal(1_300, memory.Find(X64));
    }

    [Fact]
    public void What_calls_took_on_a_core_of_ones_own_is_remembered_of_the_machine_as_it_was_seen_last()
    {
        var memory = new GaugeFile(_folder, Machine);
        memory.Keep(X64, 1_200);
        Assert.Null(memory.QuietCallCycles);

        memory.KeepQuietCall(44.25);
        memory.KeepQuietCall(double.NaN);

        Assert.Equal(44.25, new GaugeFile(_folder, Machine).QuietCallCycles);
        Assert.Equal(1_200, memory.Find(X64));
        Assert.Null(new GaugeFile(_folder, Machine with { Processor = "Buoy" }).QuietCallCycles);
        memory.KeepQuietCall(12);
        Assert.Equal(12, memory.QuietCallCycles);
        new GaugeFile(Path.Combine(_folder, "gauges.json", "below a file"), Machine).KeepQuietCall(12);
    }

    [Fact]
    public void What_is_remembered_and_was_wrong_is_given_up_within_a_run()
    {
        var memory = new GaugeFile(_folder, Machine);
        memory.Keep(X64, 640);
        var quiet = new QuietCore([X64], memory);

        quiet.Note(0, 1_190, isSharp: true);
        quiet.Note(0, 1_195, isSharp: true);
        Assert.Equal(640, quiet.LowOf(0));
        // In between nothing was seen that could tell.
        quiet.Note(0, 1_700, isSharp: false);
        quiet.Note(0, 1_200, isSharp: true);

        Assert.Equal((1_190, 1_190), (quiet.LowOf(0), memory.Find(X64)));
        // What a core that is shared all the time reads, however steadily, is nobody's quiet.
        Assert.All((int[])[1, 2, 3, 4], _ => quiet.Note(0, 1_600, isSharp: true));
        Assert.Equal(1_190, quiet.LowOf(0));
    }

    [Fact]
    public void A_few_gauges_whose_chain_was_disturbed_are_not_the_quietest()
    {
        var random = new Random(7);
        int[] disturbed = [.. Enumerable.Range(0, 40).Select(_ => random.Next(600, 660))];
        int[] quiet = [.. Enumerable.Range(0, 200).Select(_ => random.Next(1_183, 1_207))];
        int[] shared = [.. Enumerable.Range(0,
            1_360).Select(_ => (int)(1_850 + (180 * (random.NextDouble() + random.NextDouble() + random.NextDouble() - 1.5))))];

        var (low, isSharp) = TurnGauge.LowOf([.. disturbed, .. quiet, .. shared]);
        Assert.True(isSharp);
        Assert.InRange(low, 1_183, 1_207);
        Assert.False(TurnGauge.LowOf([.. disturbed, .. shared]).IsSharp);
        Assert.Equal((1_190, true), TurnGauge.LowOf(Enumerable.Repeat(1_190, 5)));
        Assert.Equal((0, false), TurnGauge.LowOf([]));
    }

    [Fact]
    public void A_file_that_cannot_be_read_or_written_costs_nothing_but_the_memory()
    {
        File.WriteAllText(Path.Combine(_folder, "gauges.json"), "{ \"lamp");
        var memory = new GaugeFile(_folder, Machine);
        Assert.Null(memory.Find(X64));
        memory.Keep(X64, 1_250);
        Assert.Equal(1_250, memory.Find(X64));
        var nowhere = new GaugeFile(Path.Combine(_folder, "gauges.json", "below a file"), Machine);
        nowhere.Keep(X64, 1_250);
        Assert.Null(nowhere.Find(X64));
    }
}
