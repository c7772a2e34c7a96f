using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using Tachyscope.Protocol;

namespace Tachyscope.Lab.Workers;

/// <summary>A worker in a process of its own, spoken to over its standard input and output.</summary>
internal sealed class WorkerProcess : IWorker
{
    private const int LinesKept = 12;
    private const int KilledExitCode = 137;
    private const string OverflowLine = "Stack overflow.";
    private static readonly TimeSpan PatienceForEnd = TimeSpan.FromSeconds(2);

    private readonly Process _process;
    private readonly StreamReader _replies;
    private readonly Task _errors;
    private readonly Queue<string> _lastLines = new();
    private readonly Lock _linesLock = new();
    private long _lastId;
    private bool _hasOverflowed;
    private bool _isDisposed;

    private WorkerProcess(Process process)
    {
        _process = process;
        _replies = new StreamReader(process.StandardOutput.BaseStream, ProtocolText.Encoding, false, 65_536);
        _errors = KeepErrorsAsync();
    }

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

    public static WorkerProcess Start(string command, string[] arguments, IReadOnlyDictionary<string, string> switches)
    {
        var start = new ProcessStartInfo(command, arguments)
        {
            UseShellExecute = false,
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            StandardErrorEncoding = ProtocolText.Encoding,
        };
        start.Environment[WorkerMethods.WorkerVariable] = WorkerMethods.ProtocolVersion.ToString(CultureInfo.InvariantCulture);
        foreach (var (name, value) in switches)
        {
            start.Environment[$"DOTNET_{name}"] = value;
        }

        try
        {
            return new WorkerProcess(Process.Start(start) ?? throw new Win32Exception("no process was started"));
        }
        catch (Win32Exception exception)
        {
            throw new WorkerException(WorkerTrouble.NotStarted, $"The worker {arguments.LastOrDefault(command)} could not be started by {command}: {exception.Message}");
        }
    }

    public async Task<TReply> AskAsync<TRequest, TReply>(
        string method, TRequest request, TimeSpan patience, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
    {
        var id = ++_lastId;
        using var timer = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        timer.CancelAfter(patience);
        try
        {
            await SendAsync(id, method, ProtocolText.ToElement(request), timer.Token);
            var reply = await ReceiveAsync(id, timer.Token);
            return reply.Error is { } error
                ? throw new WorkerException(WorkerTrouble.Refused, error.Message, LastLines)
                : ProtocolText.FromElement<TReply>(reply.Result);
        }
        catch (OperationCanceledException) when (!cancellation.IsCancellationRequested)
        {
            throw new WorkerException(WorkerTrouble.Hung, $"gave no answer within {Seconds(patience)}; give it longer with --patience", LastLines);
        }
        catch (JsonException exception)
        {
            throw new WorkerException(WorkerTrouble.Refused, $"The worker's answer to \"{method}\" was not understood: {exception.Message}", LastLines);
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
        await _process.StandardInput.BaseStream.DisposeAsync();
        using var timer = new CancellationTokenSource(PatienceForEnd);
        try
        {
            if (!_process.HasExited)
            {
                await _process.WaitForExitAsync(timer.Token);
            }
        }
        catch (OperationCanceledException)
        {
            _process.Kill(entireProcessTree: true);
        }

        _replies.Dispose();
        _process.Dispose();
    }

    private async Task SendAsync(long id, string method, JsonElement parameters, CancellationToken cancellation)
    {
        try
        {
            var line = ProtocolText.ToLine(new RpcRequest { Id = id, Method = method, Parameters = parameters });
            await _process.StandardInput.BaseStream.WriteAsync(line, cancellation);
            await _process.StandardInput.BaseStream.FlushAsync(cancellation);
        }
        catch (IOException)
        {
            throw await DiedAsync();
        }
    }

    private async Task<RpcReply> ReceiveAsync(long id, CancellationToken cancellation)
    {
        while (await _replies.ReadLineAsync(cancellation) is { } line)
        {
            if (TryParse(line) is { } reply && reply.Id == id)
            {
                return reply;
            }

            // Printed by the user's Main before it handed over, or by code below the console.
            Keep(line);
        }

        throw await DiedAsync();
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

    private async Task<WorkerException> DiedAsync()
    {
        using var timer = new CancellationTokenSource(PatienceForEnd);
        try
        {
            await _process.WaitForExitAsync(timer.Token);
            await _errors.WaitAsync(timer.Token);
        }
        catch (OperationCanceledException)
        {
            return new WorkerException(WorkerTrouble.Died, "closed its output without ending", LastLines);
        }

        var code = string.Create(CultureInfo.InvariantCulture, $"{Cause()}ended its process with exit code {_process.ExitCode}");
        return new WorkerException(WorkerTrouble.Died, code, LastLines);
    }

    // What the runtime and the system say in their own ways.
    private string Cause()
        => _hasOverflowed ? "overflowed the stack and "
            : _process.ExitCode == KilledExitCode ? "was killed by the system, most likely for want of memory, and "
            : "";

    private async Task KeepErrorsAsync()
    {
        try
        {
            while (await _process.StandardError.ReadLineAsync() is { } line)
            {
                _hasOverflowed |= line.StartsWith(OverflowLine, StringComparison.Ordinal);
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
            _lastLines.Enqueue(line);
            while (_lastLines.Count > LinesKept)
            {
                _lastLines.Dequeue();
            }
        }
    }

    private static string Seconds(TimeSpan time) => string.Create(CultureInfo.InvariantCulture, $"{time.TotalSeconds:0.#} s");
}
