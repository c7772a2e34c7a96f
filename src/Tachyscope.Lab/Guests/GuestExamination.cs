using System.Globalization;
using System.Text.Json.Nodes;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>Looks whether a guest's worker keeps to the protocol: every request, and what no tool would send.</summary>
/// <remarks>The demands are those of docs/protocol.md; a worker that meets them all can be measured.</remarks>
public sealed class GuestExamination
{
    private const int OversizedLetters = 8 << 20;
    private const int WarmMilliseconds = 20;
    private const int ReadingNanoseconds = 50_000;
    private const int Rounds = 12;
    private const int ReadingsPerTurn = 5;
    private const int FewestColumns = 5;

    // The operations of the guests of known cost that come with the kits.
    private const string ShortChain = "chain64";
    private const string LongChain = "chain256";
    private const int LinksBetween = 192;

    private readonly GuestStart _start;
    private readonly string _folder;
    private readonly TimeSpan _patience;
    private readonly List<GuestFinding> _findings = [];

    private GuestExamination(GuestStart start, string folder, TimeSpan patience)
        => (_start, _folder, _patience) = (start, folder, patience);

    /// <summary>Looks at a guest.</summary>
    /// <param name="guest">The guest, made ready.</param>
    /// <param name="input">An input that it takes; null for one that is tried out.</param>
    /// <param name="patience">How long it may take for a reply.</param>
    /// <returns>What was found of every demand, in the order they were looked at.</returns>
    /// <exception cref="ArgumentException">The guest could not be made ready.</exception>
    public static async Task<IReadOnlyList<GuestFinding>> LookAsync(PreparedGuest guest, JsonNode? input, TimeSpan patience)
    {
        ArgumentNullException.ThrowIfNull(guest);
        if (guest.Starter is not GuestStarter starter)
        {
            throw new ArgumentException("The guest could not be made ready.", nameof(guest));
        }

        var own = new GuestExamination(starter.What, starter.Folder, patience);
        var operations = await own.IntroductionAsync();
        if (operations.Count > 0)
        {
            await own.RefusalsAsync();
            await own.InputsAsync(input, operations.Count);
            await own.MeasuringAsync(input, operations);
        }

        await own.EndsAsync();
        return own._findings;
    }

    private async Task<List<JsonObject>> IntroductionAsync()
    {
        var operations = new List<JsonObject>();
        await WithAsync(async line =>
        {
            await DemandAsync("introduces itself", async () =>
            {
                var hello = Result(await line.AskAsync(WorkerMethods.Hello));
                var version = Whole(hello, "protocol");
                Need(version == WorkerMethods.ProtocolVersion,
                    $"it speaks version {version} of the protocol; speak {WorkerMethods.ProtocolVersion}");
                var environment = hello["environment"] as JsonObject;
                Need(environment is not null, "it tells no environment");
                Need(Text(hello, "kit").Length > 0, "it tells no kit");
                return $"{Text(environment!, "runtime")}, {Text(environment!, "architecture")}";
            });
            await DemandAsync("names its operations", async () =>
            {
                var studies = Result(await line.AskAsync(WorkerMethods.Studies))["studies"] as JsonArray;
                Need(studies is { Count: > 0 }, "it tells of no study; tell of one with a row for each operation");
                operations.AddRange(studies!.OfType<JsonObject>().SelectMany(study
                    => (study["variants"] as JsonArray ?? []).OfType<JsonObject>()));
                Need(operations.Count > 0, "its study has no variants; each operation is one");
                foreach (var operation in operations)
                {
                    Need(Text(operation, "name").Length > 0, "an operation has no name");
                    var loop = operation["loop"] as JsonObject;
                    Need(loop is not null, $"{Text(operation, "name")} tells no loop");
                    NeedOneOf<CallPath>(loop!, "path");
                    NeedOneOf<CallOrder>(loop!, "order");
                    NeedOneOf<ResultKind>(loop!, "result");
                }

                return string.Join(", ", operations.Select(operation => Text(operation, "name")));
            });
        });
        return operations;
    }

    private Task RefusalsAsync() => WithAsync(async line =>
    {
        await RefusesAsync(line, "a line that is no JSON", "{\"jsonrpc\":", null, RpcError.ParseError);
        await RefusesAsync(line, "JSON that is no request", "[1, 2]", null, RpcError.InvalidRequest);
        await RefusesAsync(line, "a request without a method", "{\"jsonrpc\":\"2.0\",\"id\":7}", JsonValue.Create(7),
            RpcError.InvalidRequest);
        await RefusesAsync(line, "a method nobody knows", "{\"jsonrpc\":\"2.0\",\"id\":8,\"method\":\"dance\"}", JsonValue.Create(8),
            RpcError.MethodNotFound);
        await RefusesAsync(line, "parameters that are missing", "{\"jsonrpc\":\"2.0\",\"id\":9,\"method\":\"take\"}", JsonValue.Create(9),
            RpcError.InvalidParameters);
        await RefusesAsync(line, "warming before anything is open",
            $"{{\"jsonrpc\":\"2.0\",\"id\":10,\"method\":\"warm\",\"params\":{Warm([0])}}}", JsonValue.Create(10), RpcError.InvalidRequest);
        await RefusesAsync(line, "an answer on an input it was not given",
            "{\"jsonrpc\":\"2.0\",\"id\":11,\"method\":\"check\",\"params\":"
                + "{\"study\":\"guest\",\"seed\":1,\"input\":77,\"variant\":0,\"reference\":0}}",
            JsonValue.Create(11), RpcError.InvalidParameters);
        await DemandAsync("passes over empty lines", async () =>
        {
            Result(await line.SendAsync("\n\n{\"jsonrpc\":\"2.0\",\"id\":12,\"method\":\"hello\"}", JsonValue.Create(12)));
            return null;
        });
        await DemandAsync("keeps an id at its limit", async () =>
        {
            Result(await line.AskAsync(WorkerMethods.Hello, id: JsonValue.Create((1L << 53) - 1)));
            return null;
        });
    });

    private async Task InputsAsync(JsonNode? input, int operations)
    {
        await WithAsync(async line =>
        {
            await DemandAsync("takes an input of 8 MiB on one line", async () =>
            {
                Result(await line.AskAsync(WorkerMethods.Take, Taken(0, JsonValue.Create(new string('x', OversizedLetters)))));
                return null;
            });
            await DemandAsync("takes numbers at their limits", async () =>
            {
                var numbers = JsonNode.Parse("[1e308, -1e308, 5e-324, -0.0, 9007199254740991, -9007199254740991, 0]")!;
                Result(await line.AskAsync(WorkerMethods.Take, Taken(0, numbers)));
                return null;
            });
            await DemandAsync("takes letters of every script", async () =>
            {
                Result(await line.AskAsync(WorkerMethods.Take, Taken(0, JsonValue.Create("Ünïcode ⚓ 灯台 \u0001 \"\\"))));
                return null;
            });
            await DemandAsync("takes an input from a file", async () =>
            {
                var path = Path.Combine(Path.GetTempPath(), $"tachyscope-guest-{Guid.NewGuid():N}.json");
                await File.WriteAllTextAsync(path, (input ?? JsonValue.Create(3)).ToJsonString());
                try
                {
                    Result(await line.AskAsync(WorkerMethods.Take, new { inputs = new[] { new { input = 0, file = path } } }));
                }
                finally
                {
                    File.Delete(path);
                }

                return null;
            });
        });
        await WithAsync(line => DemandAsync("answers, and the same the second time", async () =>
        {
            await TakeAsync(line, input);
            for (var variant = 0; variant < operations; variant++)
            {
                var (first, second) = (await AnswerAsync(line, variant), await AnswerAsync(line, variant));
                Need(first == second, $"operation {variant} answers {Shortened(first)} first and {Shortened(second)} then");
            }

            return Shortened(await AnswerAsync(line, 0));
        }));
    }

    private async Task MeasuringAsync(JsonNode? input, List<JsonObject> operations)
    {
        await WithAsync(async line =>
        {
            var cells = Cells(operations);
            var times = new double[cells.Count];
            await DemandAsync("opens and warms a sitting", async () =>
            {
                await TakeAsync(line, input);
                var opened = Result(await line.AskAsync(WorkerMethods.Open, new { study = "guest", seed = 1, shuffle = 1, cells }));
                Need(Whole(opened, "cells") == cells.Count, $"it opened {Whole(opened, "cells")} of {cells.Count} cells");
                var warmed = Result(await line.SendAsync(
                    $"{{\"jsonrpc\":\"2.0\",\"id\":100,\"method\":\"warm\",\"params\":{Warm(Enumerable.Range(0, cells.Count))}}}",
                    JsonValue.Create(100)));
                var told = (warmed["cells"] as JsonArray ?? []).OfType<JsonObject>().ToDictionary(cell => Whole(cell, "cell"));
                Need(Number(warmed, "elapsedMilliseconds") > 0, "it tells no elapsedMilliseconds");
                Need(warmed["slices"] is JsonArray { Count: > 0 }, "it tells no slices, from which the tool sees whether it is warm");
                for (var cell = 1; cell < cells.Count; cell++)
                {
                    Need(told.ContainsKey(cell), $"it tells nothing of cell {cell}");
                    Need(Whole(told[cell], "callsPerReading") > 0 && Number(told[cell], "nanosecondsPerCall") >= 0,
                        $"callsPerReading or nanosecondsPerCall of cell {cell} make no sense");
                }

                return null;
            });
            await DemandAsync("reads the rounds it is asked for, and no others", async () =>
            {
                for (var round = 0; round < Rounds; round++)
                {
                    int[] order = [.. Enumerable.Range(1, cells.Count - 1).OrderBy(cell => (cell * 7 + round) % cells.Count)];
                    var asked = new
                    {
                        rounds = new[] { new { round, firstPlace = 3, cells = order } },
                        readingsPerTurn = ReadingsPerTurn, metronome = 0, quietGauge = 0, isCollectionHeld = false,
                    };
                    var readings = (Result(await line.AskAsync(WorkerMethods.Read, asked))["readings"] as JsonArray ?? [])
                        .OfType<JsonArray>().ToList();
                    Look(readings, round, order, times);
                }

                return times[0] > 0
                    ? string.Create(CultureInfo.InvariantCulture, $"a link of its metronome takes {times[0]:0.###} ns")
                    : "it has no metronome, so that its times are stated as they are";
            });
            Compare(cells, times);
            await DemandAsync("leaves when it is told to", async () =>
            {
                Result(await line.AskAsync(WorkerMethods.Bye));
                Need(await line.WaitAsync() is 0, "it does not end with exit code 0 within 2 s");
                return null;
            });
            _findings.Add(line.Noise == 0
                ? new GuestFinding("writes nothing but replies", null)
                : new GuestFinding("writes nothing but replies",
                    $"{line.Noise} lines on its standard output were no replies; print to standard error"));
        });
    }

    // What was seen, and no demand: noise decides too.
    private void Compare(List<object> cells, double[] times)
    {
        var (loop, own, twin) = (times[1], times[2], times[3]);
        if (!(own > loop))
        {
            return;
        }

        _findings.Add(new GuestFinding("its empty loop and its twin", null, string.Create(CultureInfo.InvariantCulture,
            $"the loop takes {loop:0.##} ns of {own:0.##} ns a call; the twin is {Math.Abs(Math.Log(twin / own)):P1} off"))
            { IsLookedAt = false });
        if (cells.Count == 5 && times[0] > 0)
        {
            var links = (times[4] - own) / times[0];
            _findings.Add(new GuestFinding("known cost", null,
                string.Create(CultureInfo.InvariantCulture,
                    $"{LinksBetween} links more take {links:0.#} links of its metronome")) { IsLookedAt = false });
        }
    }

    private async Task EndsAsync()
        => await WithAsync(line => DemandAsync("ends when its input ends", async () =>
        {
            await line.AskAsync(WorkerMethods.Hello);
            Need(await line.EndAsync() is not null, "it goes on 2 s after its standard input was closed");
            return null;
        }));

    // The metronome, the empty loop of the first operation, that, its twin, and the longer chain where there are both.
    private static List<object> Cells(List<JsonObject> operations)
    {
        var names = operations.ConvertAll(operation => Text(operation, "name"));
        var (first, other) = (Math.Max(0, names.IndexOf(ShortChain)), names.IndexOf(LongChain));
        var loop = operations[first]["loop"]!;
        object Cell(string kind, int variant) => new { kind, variant, input = 0, loop, target = 0, copy = 0, worker = 0 };
        List<object> cells = [Cell("metronome", 0), Cell("identity", first), Cell("variant", first), Cell("twin", first)];
        return names[first] == ShortChain && other >= 0 ? [.. cells, Cell("variant", other)] : cells;
    }

    private static void Look(List<JsonArray> readings, int round, int[] order, double[] times)
    {
        foreach (var reading in readings)
        {
            Need(reading.Count >= FewestColumns, $"a reading has {reading.Count} numbers; it has {FewestColumns} at least");
            var (of, place, cell) = (At(reading, 0), At(reading, 1), (int)At(reading, 2));
            Need((int)of == round, $"a reading is of round {of}; round {round} was asked for");
            Need(place >= 3 && place < 3 + order.Length, $"a reading has the place {place}; places were 3 to {2 + order.Length}");
            Need(cell == 0 || order[(int)place - 3] == cell,
                $"the reading at place {place} is of cell {cell}; cell {order[(int)place - 3]} was asked for there");
            Need(At(reading, 3) >= 1 && At(reading, 4) >= 0, "a reading has less than one call, or a time below 0");
            var time = At(reading, 4) / At(reading, 3);
            times[cell] = times[cell] == 0 ? time : Math.Min(times[cell], time);
        }

        foreach (var cell in order)
        {
            Need(readings.Exists(reading => (int)At(reading, 2) == cell), $"round {round} has no reading of cell {cell}");
        }
    }

    private static double At(JsonArray reading, int column)
        => reading[column] is JsonValue value && value.TryGetValue<double>(out var number) ? number
            : throw new InvalidDataException($"column {column} of a reading is {reading[column]?.ToJsonString() ?? "null"}, and no number");

    private static string Warm(IEnumerable<int> cells)
        => $"{{\"cells\":[{string.Join(",", cells)}],\"quietMilliseconds\":{WarmMilliseconds},\"capMilliseconds\":{10 * WarmMilliseconds},"
            + $"\"leastCalls\":60,\"readingNanoseconds\":{ReadingNanoseconds}}}";

    private static object Taken(int index, JsonNode value) => new { inputs = new[] { new { input = index, value = value.DeepClone() } } };

    // Without an input of its own, one that many guests can make something of.
    private static async Task TakeAsync(GuestLine line, JsonNode? input)
        => Result(await line.AskAsync(WorkerMethods.Take, Taken(0, input ?? JsonValue.Create(3))));

    private static async Task<string> AnswerAsync(GuestLine line, int variant)
    {
        var reply = Result(await line.AskAsync(WorkerMethods.Check,
            new { study = "guest", seed = 1, input = 0, variant, reference = variant }));
        Need(reply["failure"] is null, $"operation {variant} {reply["reason"]}; give an input that it takes with --input");
        Need(reply.ContainsKey("value"), $"operation {variant} answers without a value");
        return reply["value"]?.ToJsonString() ?? "null";
    }

    private Task RefusesAsync(GuestLine line, string what, string request, JsonNode? id, int code)
        => DemandAsync($"refuses {what}", async () =>
    {
        var (_, error) = await line.SendAsync(request, id);
        Need(error is not null, "it answers with a result");
        Need(Whole(error!, "code") == code, $"it answers with the code {Whole(error!, "code")}; the code is {code}");
        Need(Text(error!, "message").Length > 0, "its error has no message");
        return null;
    });

    private async Task WithAsync(Func<GuestLine, Task> look)
    {
        GuestLine line;
        try
        {
            line = GuestLine.Start(_start, _folder, _patience);
        }
        catch (InvalidDataException exception)
        {
            _findings.Add(new GuestFinding("starts", exception.Message));
            return;
        }

        await using (line)
        {
            await look(line);
        }
    }

    private async Task DemandAsync(string demand, Func<Task<string?>> look)
    {
        try
        {
            _findings.Add(new GuestFinding(demand, null, await look()));
        }
        catch (InvalidDataException exception)
        {
            _findings.Add(new GuestFinding(demand, exception.Message));
        }
    }

    private static JsonObject Result((JsonObject? Result, JsonObject? Error) reply)
        => reply.Result ?? throw new InvalidDataException($"it answers with an error: {Text(reply.Error!, "message")}");

    private static void Need(bool isMet, string problem)
    {
        if (!isMet)
        {
            throw new InvalidDataException(problem);
        }
    }

    private static void NeedOneOf<T>(JsonObject loop, string name)
        where T : struct, Enum
    {
        var told = Text(loop, name);
        string[] known = [.. Enum.GetNames<T>().Select(value => char.ToLowerInvariant(value[0]) + value[1..])];
        Need(known.Contains(told), $"the {name} of a loop is \"{told}\"; there are {string.Join(", ", known)}");
    }

    private static string Text(JsonObject of, string name)
        => of[name] is JsonValue value && value.TryGetValue<string>(out var text) ? text : "";

    private static double Number(JsonObject of, string name)
        => of[name] is JsonValue value && value.TryGetValue<double>(out var number) ? number : double.NaN;

    private static long Whole(JsonObject of, string name)
        => of[name] is JsonValue value && value.TryGetValue<double>(out var number) && number == Math.Floor(number) ? (long)number
            : throw new InvalidDataException($"{name} is {of[name]?.ToJsonString() ?? "missing"}; it is a whole number");

    private static string Shortened(string text) => text.Length <= 60 ? text : $"{text[..59]}…";
}
