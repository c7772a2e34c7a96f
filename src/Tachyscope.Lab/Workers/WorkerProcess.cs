using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Processes;
using Tachyscope.Protocol;
using Tachyscope.Storing;

namespace Tachyscope.Lab.Workers;

/// <summary>A worker in a process of its own, spoken to over its standard input and output.</summary>
internal sealed class WorkerProcess : IWorker
{
    private const int LinesKept = 12;
    private const int LettersKept = 300;

    // An answer is in it, and never an input.
    private const int LongestGuestReply = 64 * 1024 * 1024;
    private static readonly ProcessorWait s_processorWait = new("/proc");

    private const string GroupLeader = "/usr/bin/setsid";

    private const string OverflowLine = "Stack overflow.";
    private static readonly TimeSpan PatienceForEnd = TimeSpan.FromSeconds(2);

    // What a worker wrote before it ended lies in the pipe by then.
    private static readonly TimeSpan PatienceForRest = TimeSpan.FromMilliseconds(300);

    private readonly ChildProcess _process;
    private readonly WhereaboutsFile _whereabouts;
    private readonly CappedLines _replies;
    private readonly Task _errors;
    private readonly Queue<string> _lastLines = new();
    private readonly Lock _linesLock = new();
    private readonly int _mostMebibytes;
    private long _lastId;
    private bool _hasOverflowed;
    private bool _isStuck;
    private bool _isDisposed;

    private WorkerProcess(ChildProcess process, WhereaboutsFile whereabouts, int longestReply = CappedLines.LongestMessage)
    {
        _process = process;
        _whereabouts = whereabouts;
        _replies = new CappedLines(process.Output, longestReply);
        _mostMebibytes = longestReply >> 20;
        _errors = KeepErrorsAsync();
    }

    public IReadOnlyList<string> LeftBehind { get; private set; } = [];

    public IReadOnlyList<string> LastLines
    {
        get
        {
            lock (_linesLock)
            {
                return [.. _lastLines];
            }
        }
    }

    public static WorkerProcess Start(
        string command, string[] arguments, IReadOnlyDictionary<string, string> switches, bool isPaceKept,
            bool isHeldToOneProcessor = false)
    {
        var whereabouts = WhereaboutsFile.Create();
        try
        {
            var process = ChildProcess.Start(command, null, arguments, environment =>
            {
                environment[WorkerMethods.WorkerVariable] = WorkerMethods.ProtocolVersion.ToString(CultureInfo.InvariantCulture);
                environment[WorkerMethods.WhereaboutsVariable] = whereabouts.Path;
                // On one processor the runtime waits ten times as long before it optimises, which is longer than warming lasts; what it
                // then makes is the same.
                environment.TryAdd(WorkerMethods.SingleProcessorDelayVariable, "1");
                // Nor does a shorter wait change what is made; it makes warming half as long.
                if (!isPaceKept)
                {
                    environment.TryAdd(WorkerMethods.OptimisationDelayVariable, WorkerMethods.OptimisationDelay);
                }

                foreach (var (name, value) in switches)
                {
                    environment[$"DOTNET_{name}"] = value;
                }
            });
            ReplyRehearsal.Begin();
            if (isHeldToOneProcessor)
            {
                process.HoldToOneProcessor();
            }

            return new WorkerProcess(process, whereabouts);
        }
        catch (Win32Exception exception)
        {
            whereabouts.Dispose();
            var worker = arguments.LastOrDefault(command);
            throw new WorkerException(
                WorkerTrouble.NotStarted, $"The worker {worker} could not be started by {command}: {exception.Message}");
        }
    }

    /// <summary>Starts a guest's worker, at the head of a process group of its own where the system has a command for that.</summary>
    public static WorkerProcess StartGuest(GuestStart start, string folder)
    {
        var whereabouts = WhereaboutsFile.Create();
        try
        {
            var (command, arguments) = File.Exists(GroupLeader)
                ? (GroupLeader, [start.Program, .. start.Arguments])
                : (start.Program, (IEnumerable<string>)start.Arguments);
            var process = ChildProcess.Start(command, folder, arguments, environment =>
            {
                environment[WorkerMethods.WorkerVariable] = WorkerMethods.ProtocolVersion.ToString(CultureInfo.InvariantCulture);
                environment[WorkerMethods.WhereaboutsVariable] = whereabouts.Path;
                foreach (var (name, value) in start.Variables)
                {
                    environment[name] = value;
                }
            });
            return new WorkerProcess(process, whereabouts, LongestGuestReply);
        }
        catch (Win32Exception exception)
        {
            whereabouts.Dispose();
            throw new WorkerException(WorkerTrouble.NotStarted, $"could not be started by {start.Program}: {exception.Message}");
        }
    }

    public int Id => _process.Id;

    public async Task<TReply> AskAsync<TRequest, TReply>(
        string method, TRequest request, Patience patience, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
    {
        using var abandon = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        var asking = ExchangeAsync(++_lastId, method, ProtocolText.ToElement(request), abandon.Token);
        try
        {
            await WaitAsync(asking, method, patience, cancellation);
            var reply = await asking;
            if (method == WorkerMethods.Hello)
            {
                _whereabouts.Unlink();
            }

            return reply.Error is { } error
                ? throw new WorkerException(WorkerTrouble.Refused, VisibleText.Of(error.Message), LastLines)
                : reply.Result?.Deserialize<TReply>(RunJson.Options) ?? throw new JsonException("there is no result");
        }
        catch (OperationCanceledException)
        {
            // In the middle of something, and nobody waits for it any more.
            _isStuck = true;
            throw;
        }
        catch (JsonException exception)
        {
            throw new WorkerException(
                WorkerTrouble.Refused, $"The worker's answer to \"{method}\" was not understood: {exception.Message}", LastLines);
        }
        finally
        {
            await abandon.CancelAsync();
        }
    }

    public async ValueTask DisposeAsync()
    {
        if (_isDisposed)
        {
            return;
        }

        _isDisposed = true;
        // The stream itself, not its writer: a writer flushes first, and the pipe of a dead worker is broken.
        await _process.Input.DisposeAsync();
        var id = _process.Id;
        // One that stands still is not asked to end.
        if (!_isStuck && await _process.HasEndedAsync(PatienceForEnd))
        {
            LeftBehind = ProcessGroup.EndRest(id);
        }
        else
        {
            _process.Kill();
            ProcessGroup.EndRest(id);
        }

        _process.Dispose();
        _whereabouts.Dispose();
    }

    private async Task WaitAsync(Task<RpcReply> asking, string method, Patience patience, CancellationToken cancellation)
    {
        var (count, where) = _whereabouts.Read();
        var (silent, looked) = (TimeSpan.Zero, Stopwatch.GetTimestamp());
        TimeSpan? waited = null;
        while (!asking.IsCompleted)
        {
            var look = Task.Delay(patience.NextLook(method, silent, where), cancellation);
            if (await Task.WhenAny(asking, _process.Ended, look) == asking)
            {
                break;
            }

            cancellation.ThrowIfCancellationRequested();
            if (_process.Ended.IsCompleted && await Task.WhenAny(asking, Task.Delay(PatienceForRest, cancellation)) != asking)
            {
                throw await DiedAsync(cancellation);
            }

            var now = _whereabouts.Read();
            var waitedBefore = waited;
            waited = s_processorWait.Of(_process.Id);
            var silence = Patience.Silence(Stopwatch.GetElapsedTime(looked), waited.Value - (waitedBefore ?? waited.Value));
            silent = now.Count == count ? silent + silence : TimeSpan.Zero;
            (count, where, looked) = (now.Count, now.Where, Stopwatch.GetTimestamp());
            _isStuck = silent >= patience.For(method, where) || patience.IsTimeOver(silent, where);
            if (silent >= patience.For(method, where))
            {
                var late = $"gave no answer within {Seconds(patience.For(method, where))}; give it longer with --patience";
                throw new WorkerException(WorkerTrouble.Hung, late, LastLines) { Where = where ?? default };
            }

            if (_isStuck)
            {
                var over = $"had given no answer for {Seconds(silent)} when the time allowed was over; raise --within";
                throw new WorkerException(WorkerTrouble.OutOfTime, over, LastLines) { Where = where ?? default };
            }
        }
    }

    private async Task<RpcReply> ExchangeAsync(long id, string method, JsonElement parameters, CancellationToken cancellation)
    {
        try
        {
            var request = ProtocolText.ToLine(new RpcRequest { Id = id, Method = method, Parameters = parameters });
            await _process.Input.WriteAsync(request, cancellation);
            await _process.Input.FlushAsync(cancellation);
            while (await _replies.ReadAsync(cancellation) is { } line)
            {
                if (_replies.IsMessageCut)
                {
                    // Nobody knows where the next one begins to make sense.
                    _isStuck = true;
                    Keep(line);
                    throw new WorkerException(WorkerTrouble.Refused,
                        $"answered \"{method}\" with more than {_mostMebibytes} MiB on one line", LastLines);
                }

                if (TryParse(line) is { } reply && reply.Id == id)
                {
                    return reply;
                }

                // Printed by the user's Main before it handed over, or by code below the console.
                Keep(line);
            }
        }
        catch (IOException)
        {
            // A broken pipe: the worker is gone, and its end says more.
        }

        throw await DiedAsync(cancellation);
    }

    private static RpcReply? TryParse(string line)
    {
        if (!line.StartsWith('{'))
        {
            return null;
        }

        try
        {
            return ProtocolText.FromLine<RpcReply>(line);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private async Task<WorkerException> DiedAsync(CancellationToken cancellation)
    {
        if (await Task.WhenAny(_process.Ended, Task.Delay(PatienceForEnd, cancellation)) != _process.Ended)
        {
            return new WorkerException(WorkerTrouble.Died, "closed its output without ending", LastLines)
            {
                Where = _whereabouts.Read().Where ?? default,
            };
        }

        // A child may hold its standard error open.
        await Task.WhenAny(_errors, Task.Delay(PatienceForRest, cancellation));
        // An interruption that reached both of us ends the run; the worker's end says nothing then.
        cancellation.ThrowIfCancellationRequested();
        var end = WorkerEnd.Of(_process.ExitCode, _hasOverflowed);
        return new WorkerException(WorkerTrouble.Died, end.Text, LastLines)
        {
            Where = _whereabouts.Read().Where ?? default, IsKilled = end.IsKilled,
        };
    }

    private async Task KeepErrorsAsync()
    {
        var errors = new CappedLines(_process.Errors);
        try
        {
            while (await errors.ReadAsync(CancellationToken.None) is { } line)
            {
                // After whatever the program had left on its line.
                _hasOverflowed |= line.EndsWith(OverflowLine, StringComparison.Ordinal);
                Keep(line);
            }
        }
        catch (Exception exception) when (exception is IOException or ObjectDisposedException)
        {
            // The worker was ended while it wrote; what came before is kept.
        }
    }

    private void Keep(string line)
    {
        if (string.IsNullOrWhiteSpace(line))
        {
            return;
        }

        lock (_linesLock)
        {
            _lastLines.Enqueue(VisibleText.Of(line.Length <= LettersKept ? line : line[..LettersKept]));
            while (_lastLines.Count > LinesKept)
            {
                _lastLines.Dequeue();
            }
        }
    }

    private static string Seconds(TimeSpan time) => string.Create(CultureInfo.InvariantCulture, $"{time.TotalSeconds:0.#} s");
}
