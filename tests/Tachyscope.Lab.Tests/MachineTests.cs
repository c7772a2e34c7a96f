using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>Machines that are not at hand, by the files in which Linux tells of them.</summary>
public sealed class MachineTests : IDisposable
{
    private readonly string _root = Directory.CreateTempSubdirectory("tachyscope machine").FullName;

    public void Dispose() => Directory.Delete(_root, recursive: true);

    [Fact]
    public void A_plain_machine_uses_all_it_may()
    {
        Assert.Equal([0, 1, 5], Choice.Alike([0, 1, 5]));
        Assert.Empty(Choice.Alike([]));
        Assert.Null(Choice.Quota());
    }

    [Fact]
    public void Rounds_stay_on_the_strong_cores_of_a_hybrid_processor()
    {
        Tell("sys/devices/cpu_core/cpus", "0-3,6");

        Assert.Equal([1, 3, 6], Choice.Alike([1, 3, 4, 5, 6, 7]));
        // A process that may use none of them uses what it may.
        Assert.Equal([4, 5], Choice.Alike([4, 5]));
    }

    [Theory]
    [InlineData("cpu_capacity", 1024, 400, 1024, 1000)]
    [InlineData("cpufreq/cpuinfo_max_freq", 5_800_000, 3_900_000, 5_600_000, 5_500_000)]
    public void Cores_are_of_one_kind_by_their_capacity_or_frequency(string file, params int[] strengths)
    {
        for (var processor = 0; processor < strengths.Length; processor++)
        {
            Tell($"sys/devices/system/cpu/cpu{processor}/{file}", FormattableString.Invariant($"{strengths[processor]}"));
        }

        Assert.Equal([0, 2, 3], Choice.Alike([0, 1, 2, 3]));
    }

    [Fact]
    public void Rounds_stay_beside_one_memory()
    {
        Tell("sys/devices/system/node/node0/cpulist", "0-63,128-191");
        Tell("sys/devices/system/node/node1/cpulist", "64-127,192-255");

        Assert.Equal(Enumerable.Range(0, 64).Concat(Enumerable.Range(128, 64)), Choice.Alike([.. Enumerable.Range(0, 256)]));
        Assert.Equal(Enumerable.Range(64, 10), Choice.Alike([0, .. Enumerable.Range(64, 10)]));
    }

    [Theory]
    [InlineData("0::/lamps/one", "sys/fs/cgroup/lamps/one/cpu.max", "50000 100000", 0.5)]
    [InlineData("0::/lamps/one", "sys/fs/cgroup/lamps/cpu.max", "150000 100000", 1.5)]
    [InlineData("0::/", "sys/fs/cgroup/cpu.max", "max 100000", null)]
    [InlineData("5:memory:/\n4:cpu,cpuacct:/lamps", "sys/fs/cgroup/cpu/lamps/cpu.cfs_quota_us", "200000", 2.0)]
    [InlineData("4:cpu,cpuacct:/lamps", "sys/fs/cgroup/cpu/lamps/cpu.cfs_quota_us", "-1", null)]
    [InlineData("nonsense", "sys/fs/cgroup/cpu.max", "50000 100000", null)]
    public void What_the_system_gives_at_most_is_read_from_the_group_and_those_above(string group, string file, string content,
        double? expected)
    {
        Tell("proc/self/cgroup", group);
        Tell(file, content);
        Tell("sys/fs/cgroup/cpu/lamps/cpu.cfs_period_us", "100000");

        Assert.Equal(expected, Choice.Quota());
    }

    [Fact]
    public void An_arm_processor_is_named_by_its_numbers()
    {
        Assert.Equal("arm64, maker 0x41, part 0xd0c",
            Surveyor.ProcessorName("processor\t: 0\nBogoMIPS\t: 243.75\nCPU implementer\t: 0x41\nCPU part\t: 0xd0c\n"));
        Assert.Equal("Lamp 9000", Surveyor.ProcessorName("vendor_id : x\nmodel name : Lamp 9000\n"));
        Assert.Null(Surveyor.ProcessorName("nothing of the kind"));
    }

    [Fact]
    public async Task A_quota_warms_no_more_sittings_at_once_than_it_gives_time_for()
    {
        var workers = new ScriptedWorkers(ExperimentTests.Study("lamps", 1));
        var machine = new MachineDescription { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour", ProcessorQuota = 0.5 };
        var plan = new Experiments.ExperimentSurroundings { Machine = machine, Tool = "test",
            ProcessorsAlike = processors => [.. processors.Take(1)] };

        var run = (await new Experiments.Experiment(workers, new RunPlan(), plan).RunAsync(CancellationToken.None)).Run!;

        var sittings = run.Studies[0].Sittings;
        Assert.All(sittings.Zip(sittings.Skip(1)), pair => Assert.True(pair.Second.BeganSeconds >= pair.First.EndedSeconds));
    }

    [Theory]
    [InlineData(null, null, 30, 30)]
    [InlineData(8.0, null, 2, 30)]
    [InlineData(80.0, null, 10, 30)]
    [InlineData(800.0, null, 30, 30)]
    [InlineData(8.0, 1.0, 1, 1)]
    [InlineData(null, 45.0, 45, 45)]
    public void Patience_is_as_asked_or_a_share_of_the_time_allowed(double? within, double? asked, double perCall, double forStart)
    {
        var patience = new Patience(new RunPlan { WithinSeconds = within, PatienceSeconds = asked });

        Assert.Equal((perCall, forStart), (patience.PerCall.TotalSeconds, patience.For(WorkerMethods.Hello, null).TotalSeconds));
        Assert.Equal(patience.PerCall, patience.For(WorkerMethods.Warm, null));
        Assert.Equal(patience.PerCall, patience.For(WorkerMethods.Warm, new WorkerWhere(WorkerPlace.Cell, 0)));
        Assert.Equal(Math.Max(perCall, 30), patience.For(WorkerMethods.Warm, new WorkerWhere(WorkerPlace.Own, 0)).TotalSeconds);
        Assert.False(patience.IsTimeOver(TimeSpan.FromSeconds(1), default));
    }

    [Fact]
    public void What_building_guests_took_takes_nothing_of_the_time_allowed()
    {
        var (counted, leftOut) = (new Patience(new RunPlan { WithinSeconds = 1e-6 }), new Patience(new RunPlan { WithinSeconds = 1e-6 }));
        leftOut.LeaveOut(TimeSpan.FromHours(1));

        Assert.True(counted.IsTimeOver(TimeSpan.FromMinutes(1), new WorkerWhere(WorkerPlace.Cell, 0)));
        Assert.False(leftOut.IsTimeOver(TimeSpan.FromMinutes(1), new WorkerWhere(WorkerPlace.Cell, 0)));
    }

    [Fact]
    public void When_the_time_is_over_a_call_is_cut_the_sooner_when_there_is_something_to_show()
    {
        var patience = new Patience(new RunPlan { WithinSeconds = 1e-6, PatienceSeconds = 60 });
        var inCell = new WorkerWhere(WorkerPlace.Cell, 0);

        Assert.False(patience.IsTimeOver(TimeSpan.FromSeconds(1), inCell));
        patience.IsAnythingHeld = true;
        Assert.False(patience.IsTimeOver(TimeSpan.FromSeconds(0.2), inCell));
        Assert.False(patience.IsTimeOver(TimeSpan.FromSeconds(4), new WorkerWhere(WorkerPlace.Own, 0)));
        Assert.False(patience.HasRunOut);
        Assert.True(patience.IsTimeOver(TimeSpan.FromSeconds(0.3), inCell));
        Assert.True(patience.HasRunOut);
    }

    [Fact]
    public void A_worker_that_waits_its_turn_or_a_machine_that_stood_still_is_not_silent()
    {
        Tell("7/task/7/schedstat", "5000000 1500000000 12");
        Tell("7/task/8/schedstat", "5000000 500000000 12");
        Tell("7/task/8/comm", "Tachyscope");
        // One that the operation started, which still bears the name of the thread that did.
        Tell("7/task/10/schedstat", "700000000 90000000000 12");
        Tell("7/task/10/comm", "Tachyscope");

        Assert.Equal(2 - 0.7, new ProcessorWait(_root).Of(7).TotalSeconds, 6);
        Assert.Equal(TimeSpan.Zero, new ProcessorWait(_root).Of(8));
        Assert.Equal(0.3, Patience.Silence(TimeSpan.FromSeconds(0.5), TimeSpan.FromSeconds(0.2)).TotalSeconds, 6);
        Assert.Equal(0.125, Patience.Silence(TimeSpan.FromSeconds(0.5), TimeSpan.FromSeconds(2)).TotalSeconds);
        Assert.Equal(0.5, Patience.Silence(TimeSpan.FromSeconds(0.5), TimeSpan.FromSeconds(-2)).TotalSeconds);
        Assert.Equal(1, Patience.Silence(TimeSpan.FromSeconds(60), TimeSpan.Zero).TotalSeconds);
    }

    private ProcessorChoice Choice => new(_root);

    private void Tell(string file, string content)
    {
        var path = Path.Combine(_root, file);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, content + "\n");
    }
}
