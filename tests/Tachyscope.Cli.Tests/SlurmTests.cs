using System.Diagnostics;
using Tachyscope.Working;

namespace Tachyscope.Cli.Tests;

/// <summary>A plan's shares as a job array of Slurm, with two nodes on this machine, where that can be started.</summary>
public sealed class SlurmTests : IDisposable
{
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(4);

    private readonly ScriptedProject _project = new(new Script
    {
        Studies = [.. ((string[])["lamps", "buoys", "tides", "wind"]).Select(name => ScriptedStudies.Of(name, "steady", "quick"))],
        Rows = [new() { Nanoseconds = [100] }, new() { Nanoseconds = [50] }],
    });

    private readonly string _slurm = Directory.CreateTempSubdirectory("tachyscope-slurm-").FullName;

    private string Shares => Path.Combine(_project.Folder, "shares");

    public void Dispose()
    {
        foreach (var file in Directory.GetFiles(_slurm, "*.pid", SearchOption.AllDirectories))
        {
            if (int.TryParse(File.ReadAllText(file).Trim(), out var id))
            {
                try
                {
                    using var process = Process.GetProcessById(id);
                    process.Kill(entireProcessTree: true);
                    process.WaitForExit(TimeSpan.FromSeconds(10));
                }
                catch (Exception exception) when (exception is ArgumentException or InvalidOperationException)
                {
                    // It ended by itself.
                }
            }
        }

        Directory.Delete(_slurm, recursive: true);
        _project.Dispose();
    }

    [Fact]
    public async Task A_job_array_measures_the_shares_on_two_nodes_and_one_that_failed_is_run_again_by_itself()
    {
        var missing = await StartAsync();
        Assert.SkipWhen(missing.Length > 0, $"Slurm cannot be started here: {missing}");
        var tool = Path.Combine(_slurm, "tool");
        await File.WriteAllTextAsync(tool, $"""
            #!/bin/bash
            [[ "$*" == *share-3* ]] && [ ! -e "{_slurm}/again" ] && exit 3
            exec "{DotnetHost.Path}" exec "{ToolProcess.Tool}" "$@"
            """);
        if (!OperatingSystem.IsWindows())
        {
            File.SetUnixFileMode(tool, UnixFileMode.UserRead | UnixFileMode.UserExecute);
        }
        await _project.AskAsync(["plan", _project.Assembly, "--into", Shares, "--within", "5s", "--for", "slurm", "--tool", tool]);
        var job = Path.Combine(Shares, "slurm.sh");

        Assert.Equal(0, (await ShellAsync($"sbatch '{job}'")).ExitCode);
        await UntilAsync(() => Directory.GetFiles(Shares, "run-*.json").Length == 3 && File.Exists(Path.Combine(Shares, "log-3.txt")));
        await UntilAsync(() => ShellAsync("squeue -h").GetAwaiter().GetResult().Output.Length == 0);
        var first = await _project.AskAsync(["merge", Shares]);
        await File.WriteAllTextAsync(Path.Combine(_slurm, "again"), "");
        Assert.Equal(0, (await ShellAsync($"sbatch --array=3 '{job}'")).ExitCode);
        await UntilAsync(() => File.Exists(Path.Combine(Shares, "run-3.json")));
        await UntilAsync(() => ShellAsync("squeue -h").GetAwaiter().GetResult().Output.Length == 0);
        var second = await _project.AskAsync(["merge", Shares]);

        Assert.Equal(ExitCode.Failed, first.ExitCode);
        Assert.Contains("share 3 of 4 is missing", first.Error, StringComparison.Ordinal);
        Assert.Equal((ExitCode.Fine, ""), (second.ExitCode, second.Error));
        Assert.All((string[])["lamps", "buoys", "tides", "wind"],
            name => Assert.Contains($"{name} · ", second.Output, StringComparison.Ordinal));
    }

    // What it needs is a root that may become others, two programs of Slurm's and one of munge's; nobody else's are touched.
    private async Task<string> StartAsync() => (await ShellAsync($$"""
        for program in munged slurmctld slurmd sbatch squeue runuser; do
          command -v $program > /dev/null || { echo "no $program"; exit; }
        done
        [ "$(id -u)" = 0 ] && id munge > /dev/null 2>&1 || { echo "no root or munge"; exit; }
        cd '{{_slurm}}' && host=$(hostname -s) && chmod 755 . && mkdir -p state spool munge
        head -c 1024 /dev/urandom > munge/key && chown -R munge munge && chmod 711 munge && chmod 400 munge/key
        runuser -u munge -- munged --force --key-file="$PWD/munge/key" --socket="$PWD/munge/socket" --pid-file="$PWD/munge/m.pid" \
          --log-file="$PWD/munge/log" \
          --seed-file="$PWD/munge/seed" > munge.out 2>&1 || { echo "no munged"; exit; }
        port=$((20000 + $$ % 9000))
        cat > slurm.conf <<END
        ClusterName=harbour
        SlurmctldHost=$host(127.0.0.1)
        SlurmctldPort=$port
        SlurmUser=root
        AuthType=auth/munge
        AuthInfo=socket=$PWD/munge/socket
        ProctrackType=proctrack/linuxproc
        TaskPlugin=task/none
        SelectType=select/cons_tres
        SelectTypeParameters=CR_Core
        JobAcctGatherType=jobacct_gather/none
        MpiDefault=none
        AccountingStorageType=accounting_storage/none
        ReturnToService=2
        SlurmdParameters=config_overrides
        StateSaveLocation=$PWD/state
        SlurmdSpoolDir=$PWD/spool/%n
        SlurmctldPidFile=$PWD/ctld.pid
        SlurmdPidFile=$PWD/slurmd-%n.pid
        SlurmctldLogFile=$PWD/ctld.log
        SlurmdLogFile=$PWD/slurmd-%n.log
        NodeName=north NodeHostname=$host NodeAddr=127.0.0.1 Port=$((port + 1)) CPUs=1
        NodeName=south NodeHostname=$host NodeAddr=127.0.0.1 Port=$((port + 2)) CPUs=1
        PartitionName=harbour Nodes=north,south Default=YES MaxTime=INFINITE State=UP
        END
        { slurmctld -i && slurmd -N north && slurmd -N south; } > daemons.out 2>&1 || { echo "no daemons"; exit; }
        for try in $(seq 60); do [ "$(sinfo -h -t idle -o %D 2> /dev/null)" = 2 ] && exit; sleep 0.5; done
        echo "no nodes"
        """)).Output.Trim();

    private async Task<(int ExitCode, string Output)> ShellAsync(string script)
    {
        var start = new ProcessStartInfo("bash", ["-c", script]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["SLURM_CONF"] = Path.Combine(_slurm, "slurm.conf");
        start.Environment["TACHYSCOPE_CACHE"] = Path.Combine(_slurm, "cache");
        using var process = Process.Start(start)!;
        using var timer = new CancellationTokenSource(Longest);
        var output = process.StandardOutput.ReadToEndAsync(timer.Token);
        var errors = await process.StandardError.ReadToEndAsync(timer.Token);
        await process.WaitForExitAsync(timer.Token);
        return (process.ExitCode, await output + errors);
    }

    private static async Task UntilAsync(Func<bool> isDone)
    {
        using var timer = new CancellationTokenSource(Longest);
        while (!isDone())
        {
            await Task.Delay(200, timer.Token);
        }
    }
}
