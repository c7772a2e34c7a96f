using System.Text.Json;
using Tachyscope.Lab.Commands;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>Programs that are started anew for each call: what they answer and take, and what becomes of those that fail.</summary>
public sealed class CommandWorkerTests : IDisposable
{
    private static readonly LoopShape Started = new() { Path = CallPath.Started, Result = ResultKind.Opaque };

    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope-command-").FullName;

    public CommandWorkerTests() => Assert.SkipUnless(SpawnedProcess.IsSupported, "this system has no posix_spawn and wait4");

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Theory]
    [InlineData("tr a-z A-Z", "\"lamp\\nbuoy\"", "LAMP\nBUOY")]
    [InlineData("cat", "{\"levels\": [1, 2]}", "{\"levels\": [1, 2]}")]
    [InlineData("sh -c 'read first; echo $first lit'", "\"lamp\\nbuoy\"", "lamp lit")]
    [InlineData("echo -n", "1", "")]
    public async Task The_input_comes_on_standard_input_and_what_is_written_is_the_answer(string command, string input, string answer)
    {
        await using var worker = await TakenAsync(command, input);

        var reply = await CheckAsync(worker, TimeSpan.FromSeconds(30));

        Assert.Null(reply.Failure);
        Assert.Equal(answer, reply.Value!.Value.GetString());
    }

    [Fact]
    public async Task Each_call_is_a_start_with_its_times_its_memory_and_commands_around_it()
    {
        var log = Path.Combine(_folder, "log");
        await using var worker = await TakenAsync(
            "sh -c 'echo call >> log; i=0; while [ $i -lt 20000 ]; do i=$((i+1)); done'", "1",
            guest => guest with { Before = "echo before >> log", After = "echo after >> log", Cold = ["log"] });
        await OpenAsync(worker);

        var warm = await AskAsync<WarmRequest, WarmReply>(worker, WorkerMethods.Warm, new WarmRequest { Cells = [0, 1, 2] });
        var read = await AskAsync<ReadRequest, ReadReply>(
            worker, WorkerMethods.Read, new ReadRequest { Metronome = 0, Rounds = [new() { Round = 4, FirstPlace = 2, Cells = [2, 1] }] });

        // Far less than what starts it; where nobody may be watched, it is not told.
        Assert.True(warm.Cells.Single(cell => cell.Cell == 2).PeakMemoryBytes is null or (> 100_000 and < 30_000_000));
        var own = read.Readings.Where(reading => reading.Cell == 2).ToList();
        Assert.All(own, reading => Assert.True(
            reading is { Round: 4, Place: 2, Calls: 1 } && reading.ElapsedNanoseconds >= reading.ProcessorNanoseconds
                && reading.ProcessorNanoseconds > 0,
            $"{reading}"));
        Assert.Equal((3, 0L), read.Readings.Where(reading => reading.Cell == 1)
            .Select(reading => (reading.Place, reading.ElapsedNanoseconds)).Single());
        Assert.Equal(2, read.Readings.Count(reading => reading.Cell == 0));
        var lines = await File.ReadAllLinesAsync(log);
        Assert.Equal(Enumerable.Repeat((string[])["before", "call", "after"], 3 + own.Count).SelectMany(three => three), lines);
    }

    [Fact]
    public async Task A_program_that_ends_otherwise_than_with_0_fails_with_what_it_said()
    {
        await using var worker = await TakenAsync("sh -c 'echo no light >&2; exit 4'", "1");

        var checking = await Assert.ThrowsAsync<WorkerException>(() => CheckAsync(worker, TimeSpan.FromSeconds(30)));
        await OpenAsync(worker);
        var warming = await Assert.ThrowsAsync<WorkerException>(
            () => AskAsync<WarmRequest, WarmReply>(worker, WorkerMethods.Warm, new WarmRequest { Cells = [2] }));

        Assert.Equal("ended its process with exit code 4", checking.Message);
        Assert.Equal(["no light"], checking.LastLines);
        Assert.Equal("ended its process with exit code 4", warming.Message);
    }

    [Fact]
    public async Task A_program_that_takes_too_long_is_killed_with_all_it_started()
    {
        await using var worker = await TakenAsync("sh -c 'sleep 300 & echo $! > pid; wait'", "1");
        await OpenAsync(worker);

        var exception = await Assert.ThrowsAsync<WorkerException>(() => worker.AskAsync<WarmRequest, WarmReply>(
            WorkerMethods.Warm, new WarmRequest { Cells = [2] }, new Patience(new RunPlan { PatienceSeconds = 1 }),
                CancellationToken.None));

        Assert.Equal(WorkerTrouble.Hung, exception.Trouble);
        Assert.Equal("gave no answer within 1 s; give it longer with --patience", exception.Message);
        var child = (await File.ReadAllTextAsync(Path.Combine(_folder, "pid"))).Trim();
        for (var look = 0; look < 100 && Runs(child); look++)
        {
            await Task.Delay(20);
        }

        Assert.False(Runs(child));
    }

    [Fact]
    public async Task What_a_program_leaves_running_is_ended_and_told()
    {
        await using var worker = await TakenAsync("sh -c 'sleep 300 & echo $! > pid'", "1");
        await OpenAsync(worker);

        await AskAsync<WarmRequest, WarmReply>(worker, WorkerMethods.Warm, new WarmRequest { Cells = [2] });

        Assert.Equal(["sh"], worker.LeftBehind);
    }

    [Fact]
    public async Task A_command_around_the_calls_that_fails_is_told()
    {
        await using var worker = await TakenAsync("true", "1", guest => guest with { Before = "echo dark; exit 3" });

        var exception = await Assert.ThrowsAsync<WorkerException>(() => CheckAsync(worker, TimeSpan.FromSeconds(30)));

        Assert.Equal("is run around by echo dark; exit 3, which ended with exit code 3", exception.Message);
        Assert.Equal(["dark"], exception.LastLines);
    }

    // One that was killed and whose parent is gone may stay as a zombie until it is collected.
    private static bool Runs(string process)
        => File.Exists($"/proc/{process}/stat") && !File.ReadAllText($"/proc/{process}/stat").Contains(") Z ", StringComparison.Ordinal);

    private async Task<CommandWorker> TakenAsync(string line, string input, Func<GuestDescription, GuestDescription>? with = null)
    {
        var command = GuestCommand.Parse(line)!;
        var guest = new GuestDescription { Language = "command", Build = line, IsWhole = true };
        var program = ((string[])["/bin", "/usr/bin"]).Select(folder => Path.Combine(folder, command.Program)).First(File.Exists);
        var worker = new CommandWorker(with?.Invoke(guest) ?? guest, command with { Program = program }, _folder);
        await AskAsync<TakeRequest, Empty>(worker, WorkerMethods.Take, new TakeRequest
        {
            Inputs = [new GivenInput { Input = 0, Value = JsonDocument.Parse(input).RootElement }],
        });
        return worker;
    }

    private static Task<OpenReply> OpenAsync(CommandWorker worker)
        => AskAsync<OpenRequest, OpenReply>(worker, WorkerMethods.Open, new OpenRequest
    {
        Study = "lamps", Seed = 1,
        Cells = [.. ((CellKind[])[CellKind.Metronome, CellKind.Identity, CellKind.Variant]).Select(kind
            => new CellDescription { Kind = kind, Loop = Started })],
    });

    private static Task<CheckReply> CheckAsync(CommandWorker worker, TimeSpan patience) => worker.AskAsync<CheckRequest, CheckReply>(
        WorkerMethods.Check, new CheckRequest { Study = "lamps", Seed = 1, Input = 0, Variant = 0, Reference = 0 },
        new Patience(new RunPlan { PatienceSeconds = patience.TotalSeconds }), CancellationToken.None);

    private static Task<TReply> AskAsync<TRequest, TReply>(CommandWorker worker, string method, TRequest request)
        where TRequest : class
        where TReply : class
        => worker.AskAsync<TRequest, TReply>(method, request, new Patience(new RunPlan()), CancellationToken.None);
}
