using System.Diagnostics;
using Tachyscope.Lab.Shares;
using Tachyscope.Runs;
using Tachyscope.Storing;
using Tachyscope.Working;

namespace Tachyscope.Cli.Tests;

/// <summary>A run that is planned, measured in shares and merged, from the command line.</summary>
public sealed class ShareCommandTests : IDisposable
{
    private readonly ScriptedProject _project = new(new Script
    {
        Studies = [ScriptedStudies.Of("lamps", "steady", "quick"), ScriptedStudies.Of("buoys *", "steady", "quick"),
            ScriptedStudies.Of("tides", "steady")],
        Rows = [new() { Nanoseconds = [100] }, new() { Nanoseconds = [50] }],
    });

    private string Shares => Path.Combine(_project.Folder, "shares");

    public void Dispose() => _project.Dispose();

    [Fact]
    public async Task What_is_planned_measured_and_merged_is_what_one_run_would_have_been()
    {
        var planned = await _project.AskAsync(["plan", _project.Assembly, "--into", Shares, "--seed", "7", "--within", "5s"]);
        for (var number = 1; number <= 3; number++)
        {
            var measured = await _project.AskAsync(["run", "--share", Named("share", number), "--out", Named("run", number)]);
            Assert.True(measured.ExitCode == ExitCode.Fine, measured.Error);
        }

        var merged = await _project.AskAsync(["merge", Shares]);
        var written = await _project.AskAsync(["merge", Shares, "--out", _project.Saved]);

        Assert.True(planned.ExitCode == ExitCode.Fine, planned.Error);
        Assert.Matches(@"plan [0-9a-f]{12}: 3 shares\n(.*\n)*then: tachyscope merge ", planned.Output);
        Assert.Equal(("", ExitCode.Fine), (merged.Error, merged.ExitCode));
        Assert.All((string[])["lamps · ", "buoys * · ", "tides · "],
            name => Assert.Contains(name, merged.Output, StringComparison.Ordinal));
        Assert.Equal(ExitCode.Fine, written.ExitCode);
        var run = RunFile.Read(_project.Saved);
        Assert.Equal(["buoys *", "lamps", "tides"], run.Studies.Select(study => study.Study.Name).Order(StringComparer.Ordinal));
        Assert.Equal((7, RunState.Complete, null), (run.Plan.Seed, run.State, run.Share));
    }

    [Fact]
    public async Task Kinds_of_machine_stand_beside_each_other_as_targets_do_and_what_is_missing_is_named_with_its_way_out()
    {
        await _project.AskAsync(["plan", _project.Assembly, "--into", Shares, "--shares", "2", "--machine", "small", "--machine", "large"]);
        foreach (var name in (string[])["small-1", "small-2", "large-1"])
        {
            await _project.AskAsync(["run", "--share", Path.Combine(Shares, $"share-{name}.json"), "--out",
                Path.Combine(Shares, $"run-{name}.json")]);
        }

        var (exitCode, output, error) = await _project.AskAsync(["merge", Shares, "--out", _project.Saved]);
        var report = await _project.AskAsync(["report", _project.Saved]);

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Contains("written to ", output, StringComparison.Ordinal);
        var share = ShareFile.Read(Path.Combine(Shares, "share-large-2.json"));
        Assert.Contains($"share 2 of 2 on large is missing ({string.Join(", ", share.Studies)}); measure it: tachyscope run --share "
            + $"{Path.Combine(Shares, "share-large-2.json")} --out {Path.Combine(Shares, "run-large-2.json")}", error,
                StringComparison.Ordinal);
        Assert.Equal(["small", "large"], RunFile.Read(_project.Saved).Targets.Select(target => target.Name));
        Assert.Matches("on small and large: On large, against small: ", report.Output);
        Assert.Matches("· quick · .*small: .*large: ", report.Output);
    }

    [Fact]
    public async Task Whoever_asks_for_what_does_not_fit_is_told()
    {
        await _project.AskAsync(["plan", _project.Assembly, "--into", Shares]);
        var share = Named("share", 1);
        var other = Path.Combine(_project.Folder, "other.json");
        ShareFile.Write(ShareFile.Read(share) with { Tool = "0.0.1" }, other);

        await ExpectAsync($"what is measured, and how, is in {share}; leave out --within and --seed, or plan again with it.",
            "run", "--share", share, "--within", "3s", "--seed", "2");
        await ExpectAsync($"{other} was planned by tachyscope 0.0.1, and this is {Tool.Version}; use that one, or plan again.",
            "run", "--share", other);
        await ExpectAsync($"{_project.Assembly} is no share of a plan; ", "run", "--share", _project.Assembly);
        await ExpectAsync($"{Shares} holds the shares of another plan, ", "plan", _project.Assembly, "--into", Shares, "--seed", "2");
        await ExpectAsync("--machine a/b: a kind is named by letters", "plan", _project.Assembly, "--machine", "a/b");
        await ExpectAsync("no study matches --only \"fog\"", "plan", _project.Assembly, "--only", "fog", "--into", Shares);
        await ExpectAsync("there is no nowhere; name the folder", "merge", "nowhere");
        await ExpectAsync("there is no run to merge; measure shares", "merge", Shares);

        async Task ExpectAsync(string problem, params string[] arguments)
        {
            var (exitCode, _, error) = await _project.AskAsync(arguments);
            Assert.Equal(ExitCode.WrongUse, exitCode);
            Assert.Contains($"tachyscope: {problem}", error, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task The_script_for_ssh_gives_hosts_one_share_after_the_other_and_runs_again_what_failed()
    {
        // Stand-ins that know no other machine: the command is run here, and there is nothing to copy.
        var bin = Directory.CreateDirectory(Path.Combine(_project.Folder, "bin")).FullName;
        await ProgramAsync("ssh", "shift 2; echo ran >> \"$HOSTS\"; exec bash -c \"$*\"");
        await ProgramAsync("scp", "for last; do :; done; [ -s \"${2#*:}\" ]");
        await ProgramAsync("tachyscope", $"""
            [[ "$*" == *share-2* ]] && [ ! -e "$HOSTS.again" ] && exit 3
            exec "{DotnetHost.Path}" exec "{ToolProcess.Tool}" "$@"
            """);
        await _project.AskAsync(["plan", _project.Assembly, "--into", Shares, "--for", "ssh"]);
        var first = await RunAsync();
        var came = Directory.GetFiles(Shares, "run-*.json").Length;
        await File.WriteAllTextAsync(Path.Combine(_project.Folder, "hosts.again"), "");
        await RunAsync();

        Assert.Equal(2, came);
        Assert.Contains($"share 2 failed, see {Shares}/log-2.txt", first, StringComparison.Ordinal);
        Assert.Equal(3, Directory.GetFiles(Shares, "run-*.json").Length);
        Assert.Empty(Directory.GetDirectories(Shares, "taken-*"));
        // Two calls a share, its folder and the run; who was free took what failed once more.
        Assert.InRange((await File.ReadAllLinesAsync(Path.Combine(_project.Folder, "hosts"))).Length, 8, 10);

        async Task ProgramAsync(string name, string text)
        {
            var path = Path.Combine(bin, name);
            await File.WriteAllTextAsync(path, $"#!/bin/bash\n{text}\n");
            if (!OperatingSystem.IsWindows())
            {
                File.SetUnixFileMode(path, UnixFileMode.UserRead | UnixFileMode.UserExecute);
            }
        }

        async Task<string> RunAsync()
        {
            var start = new ProcessStartInfo("bash", ["shares/ssh.sh", "north", "south"])
            {
                WorkingDirectory = _project.Folder, RedirectStandardError = true, RedirectStandardOutput = true,
            };
            start.Environment["PATH"] = $"{bin}:{start.Environment["PATH"]}";
            start.Environment["HOSTS"] = Path.Combine(_project.Folder, "hosts");
            start.Environment["TACHYSCOPE_CACHE"] = Path.Combine(_project.Folder, "cache");
            using var process = Process.Start(start)!;
            using var timer = new CancellationTokenSource(TimeSpan.FromMinutes(5));
            var output = process.StandardOutput.ReadToEndAsync(timer.Token);
            var error = await process.StandardError.ReadToEndAsync(timer.Token);
            await process.WaitForExitAsync(timer.Token);
            return await output + error;
        }
    }

    private string Named(string what, int number) => Path.Combine(Shares, FormattableString.Invariant($"{what}-{number}.json"));
}
