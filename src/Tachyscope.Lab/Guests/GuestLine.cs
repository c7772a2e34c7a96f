using System.ComponentModel;
using System.Text.Json;
using System.Text.Json.Nodes;
using Tachyscope.Lab.Processes;
using Tachyscope.Protocol;

namespace Tachyscope.Lab.Guests;

/// <summary>A guest's worker spoken to line by line, so that it can be told what no tool would tell it.</summary>
internal sealed class GuestLine : IAsyncDisposable
{
    private static readonly TimeSpan PatienceForEnd = TimeSpan.FromSeconds(2);

    private readonly ChildProcess _process;
    private readonly CappedLines _replies;
    private readonly Task _errors;
    private readonly TimeSpan _patience;
    private long _lastId;

    private GuestLine(ChildProcess process, TimeSpan patience)
    {
        (_process, _patience) = (process, patience);
        _replies = new CappedLines(process.Output);
        _errors = process.Errors.CopyToAsync(Stream.Null);
    }

    /// <summary>Lines it wrote that were no replies.</summary>
    public int Noise { get; private set; }

    /// <exception cref="InvalidDataException">It could not be started; the message says why.</exception>
    public static GuestLine Start(GuestStart start, string folder, TimeSpan patience)
    {
        try
        {
            return new GuestLine(ChildProcess.Start(start.Program, folder, start.Arguments, environment =>
            {
                environment[WorkerMethods.WorkerVariable] = $"{WorkerMethods.ProtocolVersion}";
                foreach (var (name, value) in start.Variables)
                {
                    environment[name] = value;
                }
            }), patience);
        }
        catch (Win32Exception exception)
        {
            throw new InvalidDataException($"it could not be started: {exception.Message}", exception);
        }
    }

    /// <summary>Asks as the tool asks.</summary>
    /// <returns>The result, or the error.</returns>
    /// <exception cref="InvalidDataException">There is no reply that could be read, or none in time; the message says so.</exception>
    public async Task<(JsonObject? Result, JsonObject? Error)> AskAsync(string method, object? parameters = null, JsonNode? id = null)
    {
        id ??= JsonValue.Create(++_lastId);
        var request = new JsonObject { ["jsonrpc"] = "2.0", ["id"] = id.DeepClone(), ["method"] = method };
        if (parameters is not null)
        {
            request["params"] = JsonSerializer.SerializeToNode(parameters, Options);
        }

        return await SendAsync(request.ToJsonString(), id);
    }

    /// <summary>Sends a line, whatever is in it, and waits for the reply.</summary>
    public async Task<(JsonObject? Result, JsonObject? Error)> SendAsync(string line, JsonNode? id)
    {
        var (wanted, other) = (id?.ToJsonString() ?? "null", "");
        try
        {
            await _process.Input.WriteAsync(ProtocolText.Encoding.GetBytes($"{line}\n"));
            await _process.Input.FlushAsync();
            while (await _replies.ReadAsync(CancellationToken.None).AsTask().WaitAsync(_patience) is { } reply)
            {
                if (Parsed(reply) is not { } read)
                {
                    Noise++;
                    continue;
                }

                var got = read["id"]?.ToJsonString() ?? "null";
                if (got != wanted)
                {
                    Noise++;
                    other = $"; it replied with the id {got} to {wanted}";
                    continue;
                }

                return (read["result"] as JsonObject, read["error"] as JsonObject) is (null, null)
                    ? throw new InvalidDataException("it replied with neither a result nor an error that is an object")
                    : (read["result"] as JsonObject, read["error"] as JsonObject);
            }
        }
        catch (TimeoutException)
        {
            throw new InvalidDataException(FormattableString.Invariant($"it gave no reply within {_patience.TotalSeconds:0.#} s{other}"));
        }
        catch (IOException)
        {
            // A broken pipe: it has ended.
        }

        throw new InvalidDataException(await _process.HasEndedAsync(PatienceForEnd)
            ? $"it ended with exit code {_process.ExitCode}"
            : "it closed its output without ending");
    }

    /// <summary>Closes its input and waits for its end.</summary>
    /// <returns>Its exit code; null when it goes on.</returns>
    public async Task<int?> EndAsync()
    {
        await _process.Input.DisposeAsync();
        return await _process.HasEndedAsync(PatienceForEnd) ? _process.ExitCode : null;
    }

    /// <summary>Waits for the end it was asked for.</summary>
    public async Task<int?> WaitAsync() => await _process.HasEndedAsync(PatienceForEnd) ? _process.ExitCode : null;

    public async ValueTask DisposeAsync()
    {
        if (!await _process.HasEndedAsync(TimeSpan.Zero))
        {
            _process.Kill();
            await _process.HasEndedAsync(PatienceForEnd);
        }

        await Task.WhenAny(_errors, Task.Delay(PatienceForEnd));
        _process.Dispose();
    }

    private static JsonSerializerOptions Options { get; } = new(JsonSerializerDefaults.Web);

    private static JsonObject? Parsed(string line)
    {
        try
        {
            return JsonNode.Parse(line) as JsonObject;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
