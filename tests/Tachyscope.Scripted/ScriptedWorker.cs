using System.Buffers;
using System.Text;
using System.Text.Json;

namespace Tachyscope.Scripted;

/// <summary>Answers requests with what the script makes true, on a clock that only readings move.</summary>
internal sealed class ScriptedWorker(JsonElement script, Mischief mischief, Stream replies)
{
    private const double BeatNanoseconds = 1;
    private const double LoopNanoseconds = 0.8;
    private const double ReadingNanoseconds = 100_000;
    private const int MetronomeCalls = 20_000;

    private readonly JsonElement[] _rows = [.. script.GetProperty("rows").EnumerateArray()];
    private readonly ArrayBufferWriter<byte> _line = new(65_536);
    private Cell[] _cells = [];
    private Random _random = new(0);

    public void Serve(Stream requests)
    {
        using var reader = new StreamReader(requests, Encoding.UTF8);
        while (reader.ReadLine() is { } line)
        {
            using var request = JsonDocument.Parse(line);
            var (id, method) = (request.RootElement.GetProperty("id").GetInt64(), request.RootElement.GetProperty("method").GetString()!);
            var asked = request.RootElement.TryGetProperty("params", out var parameters) ? parameters : default;
            if (method == "open")
            {
                Open(asked.GetProperty("cells"));
            }

            var refusal = mischief.Make(method, [.. RowsIn(method, asked)],
                row => Array.FindIndex(_cells, cell => cell.Kind == "variant" && cell.Row == row));
            Reply(id, method, asked, refusal);
            if (method == "bye")
            {
                return;
            }
        }
    }

    private IEnumerable<int> RowsIn(string method, JsonElement asked) => method switch
    {
        "check" => [asked.GetProperty("variant").GetInt32()],
        "open" => _cells.Select(cell => cell.Row),
        "warm" => asked.GetProperty("cells").EnumerateArray().Select(cell => _cells[cell.GetInt32()].Row),
        "read" => asked.GetProperty("rounds").EnumerateArray().SelectMany(round => round.GetProperty("cells").EnumerateArray())
            .Select(cell => _cells[cell.GetInt32()].Row),
        _ => [],
    };

    private void Reply(long id, string method, JsonElement asked, string? refusal)
    {
        _line.ResetWrittenCount();
        using (var json = new Utf8JsonWriter(_line))
        {
            json.WriteStartObject();
            json.WriteString("jsonrpc", "2.0");
            json.WriteNumber("id", id);
            json.WriteStartObject(refusal is null ? "result" : "error");
            if (refusal is null)
            {
                Answer(json, method, asked);
            }
            else
            {
                json.WriteNumber("code", -32000);
                json.WriteString("message", refusal);
            }

            json.WriteEndObject();
            json.WriteEndObject();
        }

        replies.Write(_line.WrittenSpan);
        replies.WriteByte((byte)'\n');
        replies.Flush();
    }

    private void Answer(Utf8JsonWriter json, string method, JsonElement asked)
    {
        switch (method)
        {
            case "hello":
                json.WriteNumber("protocol", script.GetProperty("protocol").GetInt32());
                json.WriteString("kit", "script");
                json.WriteNumber("processId", Environment.ProcessId);
                Pass(json, "environment", script.GetProperty("environment"));
                break;
            case "studies":
                Pass(json, "studies", script.GetProperty("studies"));
                Pass(json, "mistakes", script.GetProperty("mistakes"));
                break;
            case "inspect":
                json.WriteStartArray("mistakes");
                json.WriteEndArray();
                break;
            case "check" when Row(asked.GetProperty("variant").GetInt32()) is { } row && row.TryGetProperty("disagreement", out var reason):
                json.WriteString("failure", "disagrees");
                Pass(json, "reason", reason);
                break;
            case "check" when Row(asked.GetProperty("variant").GetInt32()) is { } row && row.TryGetProperty("answer", out var answer):
                json.WriteStartObject("answer");
                Pass(json, "text", answer);
                Pass(json, "hash", answer);
                json.WriteEndObject();
                if (script.TryGetProperty("inputHash", out var hash))
                {
                    Pass(json, "inputHash", hash);
                }

                break;
            case "open":
                json.WriteNumber("cells", _cells.Length);
                break;
            case "warm":
                Warm(json, asked);
                break;
            case "read":
                Read(json, asked);
                break;
            case "effects":
                json.WriteStartObject("effects");
                json.WriteEndObject();
                break;
            case "diagnose":
                foreach (var found in script.GetProperty("diagnosis").EnumerateObject())
                {
                    Pass(json, found.Name, found.Value);
                }

                break;
        }
    }

    private static void Pass(Utf8JsonWriter json, string name, JsonElement value)
    {
        json.WritePropertyName(name);
        value.WriteTo(json);
    }

    // The shuffled order of the cells is what one sitting differs in from another.
    private void Open(JsonElement cells)
    {
        _cells = [.. cells.EnumerateArray()
            .Select(cell => new Cell(cell.GetProperty("kind").GetString()!, cell.GetProperty("variant")
                .GetInt32(), cell.GetProperty("input").GetInt32()))];
        var seed = _cells.Aggregate(script.GetProperty("seed")
            .GetInt32(), (hash, cell)
                => unchecked((hash * 31) + (cell.Kind.Length * 1_009) + (cell.Kind[0] * 7) + (cell.Row * 101) + cell.Input));
        _random = new Random(seed);
        var deviation = script.GetProperty("sittingDeviation").GetDouble();
        // Drawn anew by every process, and by the profile as it were.
        var isSlow = (uint)seed % 7 < 3 && Environment.GetEnvironmentVariable("DOTNET_TieredPGO") != "0";
        _cells = [.. _cells.Select(cell => cell with { Nanoseconds = Nanoseconds(cell, Math.Exp(deviation * Normal()), isSlow) })];
    }

    private JsonElement? Row(int row) => row < _rows.Length ? _rows[row] : null;

    private double Nanoseconds(Cell cell, double layout, bool isSlow)
    {
        if (cell.Kind is not ("variant" or "twin"))
        {
            return cell.Kind == "identity" ? LoopNanoseconds : BeatNanoseconds;
        }

        double[] times = Row(cell.Row) is { } row
            ? [.. row.GetProperty("nanoseconds").EnumerateArray().Select(time => time.GetDouble())]
            : [100];
        var factor = isSlow && Row(cell.Row) is { } own ? own.GetProperty("secondSpeed").GetDouble() : 1;
        return (times[Math.Min(cell.Input, times.Length - 1)] * layout * factor) + LoopNanoseconds;
    }

    private void Warm(Utf8JsonWriter json, JsonElement asked)
    {
        json.WriteNumber("elapsedMilliseconds", 400);
        json.WriteStartArray("cells");
        foreach (var index in asked.GetProperty("cells").EnumerateArray().Select(cell => cell.GetInt32()))
        {
            json.WriteStartObject();
            json.WriteNumber("cell", index);
            json.WriteBoolean("isSettled", true);
            json.WriteNumber("settledMilliseconds", 300);
            json.WriteNumber("calls", 10_000);
            json.WriteNumber("firstCallNanoseconds", 1_000_000);
            json.WriteNumber("nanosecondsPerCall", _cells[index].Nanoseconds);
            json.WriteNumber("callsPerReading", _cells[index].Calls);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        if (_rows.Any(row => row.GetProperty("stages").EnumerateObject().Any()))
        {
            json.WriteStartObject("stageCost");
            json.WriteNumber("insideNanoseconds", 1);
            json.WriteNumber("outsideNanoseconds", 1);
            json.WriteNumber("unreadNanoseconds", 1);
            json.WriteEndObject();
        }
    }

    private void Read(Utf8JsonWriter json, JsonElement asked)
    {
        var (metronome, isHeld, most) = (asked.GetProperty("metronome").GetInt32(), asked.GetProperty("isCollectionHeld")
            .GetBoolean(), asked.GetProperty("readingsPerTurn").GetInt32());
        List<(int Round, int Cell)> staged = [];
        json.WriteStartArray("readings");
        foreach (var asking in asked.GetProperty("rounds").EnumerateArray())
        {
            var (round, place) = (asking.GetProperty("round").GetInt32(), asking.TryGetProperty("firstPlace", out var first)
                ? first.GetInt32()
                : 0);
            foreach (var index in asking.GetProperty("cells").EnumerateArray().Select(cell => cell.GetInt32()))
            {
                var cell = _cells[index];
                Taken(json, round, place, metronome, MetronomeCalls, BeatNanoseconds, 0, isHeld);
                var row = cell.Kind is "variant" or "twin" ? Row(cell.Row) : null;
                var drift = cell.Kind == "variant" && row is { } drifting ? drifting.GetProperty("drift").GetDouble() : 0;
                var bytes = row?.GetProperty("bytes").GetDouble() ?? 0;
                var time = cell.Nanoseconds * (1 + (drift * round / 40));
                for (var reading = time * cell.Calls > 1e7 ? 1 : time * cell.Calls > 1e6 ? Math.Min(3, most) : most; reading > 0; reading--)
                {
                    Taken(json, round, place, index, cell.Calls,
                        time * Math.Exp(script.GetProperty("readingDeviation").GetDouble() * Normal()), bytes, isHeld);
                }

                if (cell.Kind == "variant" && row is { } own && own.GetProperty("stages").EnumerateObject().Any())
                {
                    staged.Add((round, index));
                }

                place++;
            }
        }

        json.WriteEndArray();
        json.WriteStartArray("stageReadings");
        foreach (var (round, index) in staged)
        {
            Staged(json, round, index);
        }

        json.WriteEndArray();
        json.WriteStartArray("failures");
        json.WriteEndArray();
        json.WriteBoolean("isPinned", true);
    }

    // In the order of the columns of a saved run.
    private static void Taken(Utf8JsonWriter json, int round, int place, int cell, long calls, double nanosecondsPerCall, double bytes,
        bool isHeld)
    {
        var elapsed = (long)(calls * nanosecondsPerCall);
        json.WriteStartArray();
        foreach (var number in (long[])[round, place, cell, calls, elapsed, elapsed, (long)(calls * bytes), 0, 0, 0, 0, 0, 0])
        {
            json.WriteNumberValue(number);
        }

        if (isHeld)
        {
            json.WriteNumberValue(1);
        }
        else
        {
            json.WriteNullValue();
        }

        json.WriteEndArray();
    }

    private void Staged(Utf8JsonWriter json, int round, int index)
    {
        var elapsed = (long)(_cells[index].Calls * _cells[index].Nanoseconds);
        json.WriteStartObject();
        json.WriteNumber("round", round);
        json.WriteNumber("cell", index);
        json.WriteNumber("calls", _cells[index].Calls);
        json.WriteNumber("elapsedNanoseconds", elapsed);
        json.WriteStartArray("stages");
        foreach (var stage in Row(_cells[index].Row)!.Value.GetProperty("stages").EnumerateObject())
        {
            json.WriteStartObject();
            json.WriteString("stage", stage.Name);
            json.WriteNumber("count", _cells[index].Calls);
            json.WriteNumber("elapsedNanoseconds", (long)(elapsed * stage.Value.GetDouble()));
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    // Box and Muller 1958.
    private double Normal() => Math.Sqrt(-2 * Math.Log(1 - _random.NextDouble())) * Math.Cos(2 * Math.PI * _random.NextDouble());

    private sealed record Cell(string Kind, int Row, int Input)
    {
        public double Nanoseconds { get; init; }

        public long Calls => Math.Max(1, (long)(ReadingNanoseconds / Nanoseconds));
    }
}
