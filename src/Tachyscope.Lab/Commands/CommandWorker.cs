using System.ComponentModel;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Workers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Commands;

/// <summary>Stands for the worker of a program that is started anew for each call: it starts it, in this process.</summary>
/// <remarks>A call is a start: nothing is taken off for the loop, and nothing is held to a processor, since a program may have
/// threads.</remarks>
internal sealed class CommandWorker(GuestDescription guest, GuestCommand command, string folder) : IWorker
{
    private const double LongNanoseconds = 1e7;
    private const int LinesKept = 12;
    private const int WarmingCalls = 3;

    private readonly Dictionary<int, string> _inputs = [];
    private IReadOnlyList<CellDescription> _cells = [];
    private double[] _nanoseconds = [];
    private bool _hasLeftProcesses;

    public IReadOnlyList<string> LastLines { get; private set; } = [];

    public IReadOnlyList<string> LeftBehind => _hasLeftProcesses ? [Path.GetFileName(command.Program)] : [];

    public async Task<TReply> AskAsync<TRequest, TReply>(string method, TRequest request, Patience patience, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
        => (TReply)(object)(request switch
        {
            TakeRequest take => Take(take),
            CheckRequest check => await CheckAsync(check, patience, cancellation),
            OpenRequest open => Open(open),
            WarmRequest warm => await Task.Run(() => WarmAsync(warm, patience, cancellation), cancellation),
            ReadRequest read => await Task.Run(() => ReadAsync(read, patience, cancellation), cancellation),
            _ when method == WorkerMethods.Hello => Hello(),
            _ when method == WorkerMethods.Studies => new StudiesReply { Studies = [Described()] },
            _ when method == WorkerMethods.Bye => Empty.Instance,
            _ => throw new WorkerException(WorkerTrouble.Refused, "a program that is started for each call cannot be looked at"),
        });

    public ValueTask DisposeAsync()
    {
        foreach (var file in _inputs.Values)
        {
            File.Delete(file);
        }

        _inputs.Clear();
        return ValueTask.CompletedTask;
    }

    private static HelloReply Hello() => new()
    {
        Protocol = WorkerMethods.ProtocolVersion,
        Kit = "command",
        ProcessId = Environment.ProcessId,
        IsAllocationTold = false,
        Environment = new WorkerEnvironment
        {
            Runtime = "a program of its own for each call",
            Architecture = RuntimeInformation.ProcessArchitecture.ToString().ToLowerInvariant(),
            IsOptimized = true,
        },
    };

    private static StudyDescription Described() => new()
    {
        Name = "guest", Agreement = "", Inputs = [],
        Variants = [new VariantDescription
        {
            Name = "run", Variant = "run", Loop = new LoopShape { Path = CallPath.Started, Result = ResultKind.Opaque },
        }],
    };

    // Read from a file, which takes the same time whatever else the tool is at.
    private Empty Take(TakeRequest request)
    {
        foreach (var given in request.Inputs)
        {
            var value = given.Value ?? JsonDocument.Parse(File.ReadAllText(given.File!)).RootElement;
            var text = value.ValueKind == JsonValueKind.String ? value.GetString()! : value.GetRawText();
            var path = _inputs.GetValueOrDefault(given.Input)
                ?? Path.Combine(Path.GetTempPath(), $"tachyscope-input-{Guid.NewGuid():N}.txt");
            File.WriteAllText(path, text, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false));
            _inputs[given.Input] = path;
        }

        return Empty.Instance;
    }

    private async Task<CheckReply> CheckAsync(CheckRequest request, Patience patience, CancellationToken cancellation)
    {
        await AroundAsync(guest.Before, cancellation);
        using var process = ChildProcess.Start(command.Program, folder, command.Arguments, _ => { });
        var feeding = FeedAsync(process, _inputs[request.Input], cancellation);
        var (output, errors) = (ChildProcess.TextAsync(process.Output, cancellation), ChildProcess.TextAsync(process.Errors, cancellation));
        if (!await process.HasEndedAsync(patience.PerCall))
        {
            process.Kill();
            throw new WorkerException(WorkerTrouble.Hung, Late(patience));
        }

        await feeding;
        LastLines = [.. (await errors).Split('\n', StringSplitOptions.RemoveEmptyEntries).TakeLast(LinesKept)];
        await AroundAsync(guest.After, cancellation);
        return process.ExitCode == 0
            ? new CheckReply { Value = JsonSerializer.SerializeToElement((await output).TrimEnd('\n')) }
            : throw new WorkerException(WorkerTrouble.Died, WorkerEnd.Of(process.ExitCode, hasOverflowed: false).Text, LastLines);
    }

    private static async Task FeedAsync(ChildProcess process, string file, CancellationToken cancellation)
    {
        try
        {
            await using var input = File.OpenRead(file);
            await input.CopyToAsync(process.Input, cancellation);
            await process.Input.DisposeAsync();
        }
        catch (IOException)
        {
            // It did not read to the end.
        }
    }

    private OpenReply Open(OpenRequest request)
    {
        (_cells, _nanoseconds) = (request.Cells, new double[request.Cells.Count]);
        return new OpenReply { Cells = _cells.Count };
    }

    private async Task<WarmReply> WarmAsync(WarmRequest request, Patience patience, CancellationToken cancellation)
    {
        var begun = System.Diagnostics.Stopwatch.GetTimestamp();
        var warmed = new List<WarmUp>();
        foreach (var index in request.Cells)
        {
            if (_cells[index].Kind is CellKind.Metronome or CellKind.Identity)
            {
                warmed.Add(new WarmUp { Cell = index, IsSettled = true, CallsPerReading = 1, NanosecondsPerCall = 1 });
                continue;
            }

            var first = await StartAsync(index, patience, cancellation);
            var least = (await StartAsync(index, patience, cancellation)).Elapsed;
            var watched = await StartAsync(index, patience, cancellation, isMemoryWanted: true);
            _nanoseconds[index] = least.TotalNanoseconds;
            warmed.Add(new WarmUp
            {
                Cell = index, FirstCallNanoseconds = (long)first.Elapsed.TotalNanoseconds, Calls = WarmingCalls, IsSettled = true,
                SettledMilliseconds = System.Diagnostics.Stopwatch.GetElapsedTime(begun).TotalMilliseconds,
                NanosecondsPerCall = least.TotalNanoseconds, CallsPerReading = 1, PeakMemoryBytes = watched.PeakMemoryBytes,
            });
        }

        return new WarmReply { ElapsedMilliseconds = System.Diagnostics.Stopwatch.GetElapsedTime(begun).TotalMilliseconds, Cells = warmed };
    }

    private async Task<ReadReply> ReadAsync(ReadRequest request, Patience patience, CancellationToken cancellation)
    {
        var readings = new List<Reading>();
        foreach (var round in request.Rounds)
        {
            for (var turn = 0; turn < round.Cells.Count; turn++)
            {
                var (cell, place) = (round.Cells[turn], round.FirstPlace + turn);
                readings.Add(Metronome.Read() with { Round = round.Round, Place = place, Cell = request.Metronome });
                if (_cells[cell].Kind == CellKind.Identity)
                {
                    readings.Add(new Reading { Round = round.Round, Place = place, Cell = cell, Calls = 1, ProcessorNanoseconds = 0 });
                    continue;
                }

                var count = _nanoseconds[cell] > LongNanoseconds ? 1 : ReadRequest.ReadingsOfLongTurn;
                for (var reading = 0; reading < count; reading++)
                {
                    var end = await StartAsync(cell, patience, cancellation);
                    readings.Add(new Reading
                    {
                        Round = round.Round, Place = place, Cell = cell, Calls = 1,
                        ElapsedNanoseconds = (long)end.Elapsed.TotalNanoseconds,
                            ProcessorNanoseconds = (long)end.Processor.TotalNanoseconds,
                    });
                }
            }
        }

        return new ReadReply { Readings = readings, IsPinned = true };
    }

    private async Task<SpawnedEnd> StartAsync(
        int cell, Patience patience, CancellationToken cancellation, bool isMemoryWanted = false)
    {
        cancellation.ThrowIfCancellationRequested();
        await AroundAsync(guest.Before, cancellation);
        if (guest.Cold is { } files)
        {
            FileCache.PushOut([command.Program, _inputs[_cells[cell].Input], .. files.Select(file => Path.GetFullPath(file, folder))]);
        }

        SpawnedEnd end;
        try
        {
            end = SpawnedProcess.Run(command.Program, command.Arguments, _inputs[_cells[cell].Input], folder, patience.PerCall,
                isMemoryWanted);
        }
        catch (Win32Exception exception)
        {
            throw new WorkerException(WorkerTrouble.Died, $"could not be started: {exception.Message}");
        }

        await AroundAsync(guest.After, cancellation);
        _hasLeftProcesses |= end.HasLeftProcesses;
        return end.IsLate ? throw new WorkerException(WorkerTrouble.Hung, Late(patience))
            : end.ExitCode != 0 ? throw new WorkerException(WorkerTrouble.Died, WorkerEnd.Of(end.ExitCode, hasOverflowed: false).Text)
            : end;
    }

    private async Task AroundAsync(string? line, CancellationToken cancellation)
    {
        if (line is null)
        {
            return;
        }

        try
        {
            var finished = await ShellCommand.RunAsync("/bin/sh", folder, ["-c", line], [], cancellation);
            if (finished.ExitCode != 0)
            {
                throw new WorkerException(WorkerTrouble.Died, $"is run around by {line}, which ended with exit code {finished.ExitCode}",
                    [.. finished.All.Split('\n', StringSplitOptions.RemoveEmptyEntries).TakeLast(LinesKept)]);
            }
        }
        catch (Win32Exception exception)
        {
            throw new WorkerException(WorkerTrouble.Died, $"is run around by {line}, which could not be started: {exception.Message}");
        }
    }

    private static string Late(Patience patience)
        => FormattableString.Invariant($"gave no answer within {patience.PerCall.TotalSeconds:0.#} s; give it longer with --patience");
}

/// <summary>Starts such workers.</summary>
internal sealed class CommandStarter(GuestDescription guest, GuestCommand command, string folder) : IWorkerStarter
{
    /// <inheritdoc/>
    public IWorker Start(int target = 0) => new CommandWorker(guest, command, folder);
}
