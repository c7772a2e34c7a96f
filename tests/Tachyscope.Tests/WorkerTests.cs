using System.Text;
using System.Text.Json;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Wire;
using Tachyscope.Working;

namespace Tachyscope.Tests;

public sealed class WorkerTests
{
    private static readonly Study Sound = Study.Of("sound")
        .Input("a lamp", () => 5)
        .Baseline("times", x => x * 3)
        .Variant("plus", x => x + x + x)
        .Variant("wrong", x => x)
        .Variant("throws", x => x > 0 ? throw new InvalidOperationException("dark\nsecond line") : x);

    private static readonly CellDescription[] Cells =
    [
        new() { Kind = CellKind.Variant, Variant = 0 }, new() { Kind = CellKind.Metronome }, new() { Kind = CellKind.Identity },
        new() { Kind = CellKind.Variant, Variant = 3 }, new() { Kind = CellKind.Twin, Variant = 0 },
    ];

    [Fact]
    public void It_introduces_itself_and_describes_its_studies()
    {
        var replies = Ask(Request(WorkerMethods.Hello, Empty.Instance), Request(WorkerMethods.Studies, Empty.Instance));

        var hello = Replies.FromElement<HelloReply>(replies[0].Result);
        Assert.Equal(WorkerMethods.ProtocolVersion, hello.Protocol);
        Assert.StartsWith(".NET", hello.Environment.Runtime, StringComparison.Ordinal);
        Assert.Equal(Environment.ProcessId, hello.ProcessId);
        Assert.InRange(hello.Environment.ClockStepNanoseconds, 1, 1_000_000);
        var studies = Replies.FromElement<StudiesReply>(replies[1].Result);
        Assert.Equal("sound", Assert.Single(studies.Studies).Name);
        Assert.Empty(studies.Mistakes);
    }

    [Theory]
    [InlineData(0, null, null)]
    [InlineData(1, null, null)]
    [InlineData(2, nameof(CellFailureKind.Disagrees), "answers 5 where \"times\" answers 15")]
    [InlineData(3, nameof(CellFailureKind.Threw), "threw InvalidOperationException: dark")]
    public void It_compares_answers(int variant, string? failure, string? reason)
    {
        var request = new CheckRequest { Study = "sound", Seed = 1, Input = 0, Variant = variant, Reference = 0 };

        var reply = Replies.FromElement<CheckReply>(Ask(Request(WorkerMethods.Check, request))[0].Result);

        Assert.Equal(failure, reply.Failure?.ToString());
        Assert.Equal(reason, reply.Reason);
    }

    [Fact]
    public void It_tells_its_answer_when_it_is_wanted()
    {
        var request = new CheckRequest { Study = "sound", Seed = 1, Input = 0, Variant = 1, Reference = 0 };

        var replies = Ask(Request(WorkerMethods.Check, request), Request(WorkerMethods.Check, request with { IsAnswerWanted = true }))
            .ConvertAll(reply => Replies.FromElement<CheckReply>(reply.Result));

        Assert.Null(replies[0].Answer);
        Assert.Equal("15", replies[1].Answer!.Text);
        Assert.Equal(64, replies[1].Answer!.Hash!.Length);
        Assert.Null(replies[1].InputHash);
    }

    [Fact]
    public void It_tells_what_an_input_holds_where_that_is_the_same_each_time()
    {
        var made = 0;
        var study = Study.Of("told")
            .Input("flashes", seed => Enumerable.Range(seed, 200_000).ToArray())
            .Input("fewer", seed => Enumerable.Range(seed, 199_999).ToArray())
            .Input("anew", _ => new[] { made++ })
            .Baseline("sum", flashes => flashes.Length);
        string? Told(int seed, int input) => Replies.FromElement<CheckReply>(AskOf(study, Request(WorkerMethods.Check,
            new CheckRequest { Study = "told", Seed = seed, Input = input, Variant = 0, Reference = 0, IsAnswerWanted = true }))[0].Result)
            .InputHash;

        Assert.Equal(64, Told(1, 0)!.Length);
        Assert.Equal(Told(1, 0), Told(1, 0));
        Assert.Equal(5, new[] { Told(1, 0), Told(2, 0), Told(1, 1), Told(2, 1), Told(1, 2) }.Distinct().Count());
        Assert.Null(Told(1, 2));
    }

    [Fact]
    public void An_answer_that_throws_when_it_is_read_is_told_of_no_further()
    {
        var study = Study.Of("told").Input("a lamp", () => 1).Baseline("dark", _ => new Dark()).Agree((_, _) => true);

        var reply = Replies.FromElement<CheckReply>(AskOf(study, Request(WorkerMethods.Check,
            new CheckRequest { Study = "told", Seed = 1, Input = 0, Variant = 0, Reference = 0, IsAnswerWanted = true }))[0].Result);

        Assert.Null(reply.Failure);
        Assert.Null(reply.Answer);
    }

    [Fact]
    public void It_sees_what_runtime_switches_did()
    {
        var effects = Replies.FromElement<EffectsReply>(Ask(Request(WorkerMethods.Effects, Empty.Instance))[0].Result).Effects;

        Assert.Equal(System.Runtime.GCSettings.IsServerGC ? "1" : "0", effects["gcServer"]);
        Assert.All((string[])["TieredCompilation", "TieredPGO", "TC_QuickJit", "TC_QuickJitForLoops", "TC_OnStackReplacement", "ReadyToRun",
            "gcConcurrent"], name => Assert.Contains(effects[name], (string[])["0", "1"]));
    }

    [Fact]
    public void It_warms_and_reads_what_it_was_asked_and_leaves_out_what_throws()
    {
        var replies = Ask(
            Request(WorkerMethods.Open, new OpenRequest { Study = "sound", Seed = 1, Cells = Cells }),
            Request(WorkerMethods.Warm, new WarmRequest { Cells = [0, 1, 2, 3, 4], QuietMilliseconds = 1, CapMilliseconds = 20 }),
            Request(WorkerMethods.Read, new ReadRequest
            {
                Metronome = 1,
                ReadingsPerTurn = 3,
                Rounds = [new() { Round = 0, Cells = [0, 2, 4] }, new() { Round = 1, FirstPlace = 5, Cells = [4, 3, 0] }],
            }));

        var warm = Replies.FromElement<WarmReply>(replies[1].Result);
        Assert.Equal([0, 1, 2, 4], warm.Cells.Select(cell => cell.Cell));
        Assert.Equal(3, Assert.Single(warm.Failures).Cell);
        Assert.All(warm.Cells, cell => Assert.True(cell.Calls >= 1 && cell.CallsPerReading >= 1 && cell.FirstCallNanoseconds > 0));
        var read = Replies.FromElement<ReadReply>(replies[2].Result);
        Assert.Equal([1, 0, 0, 0, 1, 2, 2, 2, 1, 4, 4, 4, 1, 4, 4, 4, 1, 0, 0, 0], read.Readings.Select(reading => reading.Cell));
        Assert.Equal([0, 1, 2, 5, 7], read.Readings.Where(reading => reading.Cell == 1).Select(reading => reading.Place));
        Assert.All(read.Readings, reading => Assert.True(reading.ElapsedNanoseconds > 0));
        Assert.False(read.IsPinned);
    }

    [Fact]
    public void A_processor_it_may_not_have_is_told_and_the_readings_are_taken_all_the_same()
    {
        var replies = Ask(
            Request(WorkerMethods.Open, new OpenRequest { Study = "sound", Seed = 1, Cells = Cells }),
            Request(WorkerMethods.Warm, new WarmRequest { Cells = [0, 1], QuietMilliseconds = 1, CapMilliseconds = 20 }),
            Request(WorkerMethods.Read, new ReadRequest { Metronome = 1, Rounds = [new() { Round = 0, Processor = 1_000, Cells = [0] }] }));

        var read = Replies.FromElement<ReadReply>(replies[2].Result);
        Assert.False(read.IsPinned);
        Assert.Equal(6, read.Readings.Count);
    }

    [Fact]
    public void The_evidence_of_warming_is_kept()
    {
        var calls = 0;
        Study study = Study.Of("settles").Input("a lamp", () => 5)
            .Baseline("grows leaner", x => calls++ < 500 ? new byte[800 + x].Length : x);
        CellDescription[] cells = [new() { Kind = CellKind.Variant }, new() { Kind = CellKind.Identity }];

        var replies = AskOf(
            study,
            Request(WorkerMethods.Open, new OpenRequest { Study = "settles", Seed = 1, Cells = cells }),
            Request(WorkerMethods.Warm, new WarmRequest { Cells = [0, 1], QuietMilliseconds = 100, CapMilliseconds = 3_000 }));

        var warm = Replies.FromElement<WarmReply>(replies[1].Result);
        // Whether it settles depends on what else this process compiles; when it does, it is told when.
        Assert.All(warm.Cells,
            cell => Assert.Equal(cell.IsSettled, cell.SettledMilliseconds > 0 && cell.SettledMilliseconds <= warm.ElapsedMilliseconds));
        var lean = warm.Cells[0];
        Assert.InRange(lean.BytesChangedMilliseconds!.Value, 0, lean.SettledMilliseconds ?? warm.ElapsedMilliseconds);
        Assert.True(lean.Curve[0].AllocatedBytesPerCall >= 800 && lean.Curve[^1].AllocatedBytesPerCall < 1);
        Assert.True(lean.Curve[0].CompiledMethods > 0);
        Assert.InRange(warm.MemoryLoadShare!.Value, 0, 2);
        Assert.True(warm.Cells[1].NanosecondsPerCall > 0);
    }

    [Fact]
    public void What_waits_by_itself_is_told_from_what_others_keep_waiting()
    {
        Thread.Sleep(1);
        var before = OwnWaits.Count();
        Thread.Sleep(1);
        Assert.Equal(before is null, OwnWaits.Count() is null);
        Assert.True(before is null || OwnWaits.Count() > before);

        Study study = Study.Of("waits").Input("a lamp", () => 5).Baseline("sleeps", x =>
        {
            Thread.Sleep(1);
            return x;
        });
        var replies = AskOf(
            study,
            Request(WorkerMethods.Open, new OpenRequest { Study = "waits", Seed = 1, Cells = [new() { Kind = CellKind.Variant }] }),
            Request(WorkerMethods.Warm, new WarmRequest { Cells = [0], QuietMilliseconds = 1, CapMilliseconds = 20 }));

        // Nothing is told where what else this process does is taken for work of the operation's.
        Assert.True(Replies.FromElement<WarmReply>(replies[1].Result).Cells[0].WaitsPerCall is null or >= 1);
    }

    [Fact]
    public void What_a_variant_does_to_its_input_and_its_answer_is_noticed()
    {
        Study study = Study.Of("watched").Input("a", () => new[] { 3, 1, 2 }).Input("b", () => new[] { 5, 4 })
            .Input("c", () => new[] { 9, 8, 7 })
            .Baseline("ordered", object (levels) => levels.Order().ToArray())
            .Variant("sorts", object (levels) => { Array.Sort(levels); return levels; })
            .Variant("later", object (levels) => levels.Order())
            .Variant("lazy", object (levels) => new Lazy<int>(() => levels[0]))
            .Variant("constant", object (_) => 42)
            .Agree((_, _) => true);

        List<(int, int, ObservationKind)> seen = [];
        var requests = Enumerable.Range(0, 3)
            .SelectMany(input => Enumerable.Range(0, 5).Select(variant => (Input: input, Variant: variant))).ToList();
        var replies = AskOf(study,
            [.. requests.Select(one => Request(WorkerMethods.Check,
                new CheckRequest { Study = "watched", Seed = 1, Input = one.Input, Variant = one.Variant, Reference = 0 }))]);
        foreach (var (request, reply) in requests.Zip(replies))
        {
            seen.AddRange(Replies.FromElement<CheckReply>(reply.Result).Observed
                .Select(observed => (request.Variant, request.Input, observed.Kind)));
        }

        Assert.Equal(
            [(2, 0, ObservationKind.AnswersLater), (3, 0, ObservationKind.AnswersLater), (4, 2, ObservationKind.IgnoresInput),
                (1, 0, ObservationKind.ChangesInput), (1, 1, ObservationKind.ChangesInput), (1, 2, ObservationKind.ChangesInput)],
            seen.Where(one => one.Item3 != ObservationKind.AnswersLater || one.Item2 == 0)
                .OrderBy(one => one.Item3 == ObservationKind.ChangesInput).ThenBy(one => one));
    }

    [Fact]
    public void A_twin_gets_an_input_of_its_own_and_the_variants_of_one_input_share_theirs()
    {
        var made = 0;
        Study study = Study.Of("makes").Input("a lamp", () => ++made).Baseline("a", x => x).Variant("b", x => x);
        CellDescription[] cells = [new() { Kind = CellKind.Variant }, new() { Kind = CellKind.Variant, Variant = 1 },
            new() { Kind = CellKind.Twin }];

        study.Body.Open(cells, seed: 1, shuffle: 1);

        Assert.Equal(2, made);
    }

    [Theory]
    [InlineData("not json", RpcError.ParseError)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4}", RpcError.ParseError)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4,\"method\":\"sing\"}", RpcError.MethodNotFound)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4,\"method\":\"check\"}", RpcError.InvalidParameters)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4,\"method\":\"check\",\"params\":{\"study\":5}}", RpcError.InvalidParameters)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4,\"method\":\"inspect\",\"params\":{\"study\":\"x\",\"seed\":1}}",
        RpcError.InvalidParameters)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4,\"method\":\"open\",\"params\":{\"study\":\"sound\",\"seed\":1,\"cells\":[{\"kind\":\"metronome\"}]}}", RpcError.InvalidParameters)]
    [InlineData("{\"jsonrpc\":\"2.0\",\"id\":4,\"method\":\"warm\",\"params\":{\"cells\":[0]}}", RpcError.InvalidRequest)]
    public void A_line_it_cannot_answer_gets_the_error_that_fits_and_it_goes_on(string line, int code)
    {
        var replies = Ask(line, "", Request(WorkerMethods.Hello, Empty.Instance));

        Assert.Equal(code, replies[0].Error?.Code);
        Assert.NotEmpty(replies[0].Error!.Message);
        Assert.NotNull(replies[1].Result);
    }

    [Fact]
    public void It_warms_and_reads_every_shape_and_marks_stages_apart()
    {
        var calls = 0;
        Study study = Study.Of("shapes").Input("a lamp", 3, () => 5).Input("a ship", 1, () => 6)
            .Baseline("stages", x =>
            {
                using (Stage.Open("outer"))
                {
                    using (Stage.Open("inner"))
                    {
                        return x;
                    }
                }
            })
            .Variant("awaited", async x => { await Task.Yield(); return x; })
            .Variant("throws within", x =>
            {
                try
                {
                    throw new InvalidOperationException();
                }
                catch (InvalidOperationException)
                {
                    return calls++ == int.MaxValue ? 0 : x;
                }
            })
            .Variant("prepared", () => new List<int>(), (list, x) => x + list.Count);
        var rows = study.Description.Variants;
        CellDescription[] cells =
        [
            new() { Kind = CellKind.Metronome },
            .. rows.Select((row, index) => new CellDescription { Kind = CellKind.Variant, Variant = index, Input = index % 3,
                Loop = row.Loop with { Supply = index % 3 == 2 ? InputSupply.Each : InputSupply.Same } }),
            new() { Kind = CellKind.Variant, Variant = 0, Loop = rows[0].Loop with { Order = CallOrder.Overlapped } },
        ];

        var replies = AskOf(
            study,
            Request(WorkerMethods.Open, new OpenRequest { Study = "shapes", Seed = 1, Cells = cells }),
            Request(WorkerMethods.Warm, new WarmRequest { Cells = [0, 1, 2, 3, 4, 5, 6], QuietMilliseconds = 1, CapMilliseconds = 50 }),
            Request(WorkerMethods.Read,
                new ReadRequest { Metronome = 0, IsCollectionHeld = true, Rounds = [new() { Round = 0, Cells = [1, 2, 3, 4, 5, 6] }] }));

        var warm = Replies.FromElement<WarmReply>(replies[1].Result);
        Assert.Empty(warm.Failures);
        Assert.True(warm.StageCost!.InsideNanoseconds > 0);
        Assert.Equal(1, warm.Cells[3].ExceptionsPerCall);
        Assert.All(warm.Cells.Skip(1), cell => Assert.True(cell.Curve.Count > 1 && cell.Curve[0].Calls == 1));
        var read = Replies.FromElement<ReadReply>(replies[2].Result);
        Assert.Empty(read.Failures);
        var staged = Assert.Single(read.StageReadings);
        Assert.Equal(["outer", "outer › inner"], staged.Stages.Select(stage => stage.Stage));
        Assert.Equal([staged.Calls, 0], staged.Stages.Select(stage => stage.CountInside));
        Assert.All(read.Readings.Where(reading => reading.Cell != 0), reading => Assert.True(reading.IsCollectionHeld));
    }

    [Fact]
    public void It_looks_at_a_single_cell()
    {
        Study study = Study.Of("kept").Input("a lamp", () => 5)
            .Baseline("boxed", prepare: x => new byte[10_000], use: (kept, x) => (object)(x + kept.Length));
        DiagnoseReply Ask(DiagnosisKind kind, int row)
            => Replies.FromElement<DiagnoseReply>(AskOf(study, Request(WorkerMethods.Diagnose, new DiagnoseRequest
            {
                Study = "kept", Seed = 1, Kind = kind,
                Cell = new() { Kind = CellKind.Variant, Variant = row, Loop = study.Description.Variants[row].Loop },
            }))[0].Result);

        Assert.True(Ask(DiagnosisKind.FirstCall, 1).FirstCallNanoseconds > 0);
        Assert.InRange(Ask(DiagnosisKind.Retained, 0).RetainedBytes!.Value, 9_900, 10_200);
        Assert.Equal("System.Int32", Ask(DiagnosisKind.Types, 1).AllocatedTypes![0].Type);
    }

    [Fact]
    public void It_names_the_versions_of_a_method_by_tier()
    {
        Study study = Study.Of("fresh").Input("a lamp", () => 5).Baseline("never called before", x => x * 7);
        var request = new DiagnoseRequest { Study = "fresh", Seed = 1, Kind = DiagnosisKind.Code,
            Cell = new() { Kind = CellKind.Variant, Loop = study.Description.Variants[0].Loop } };

        var versions = Replies.FromElement<DiagnoseReply>(AskOf(study, Request(WorkerMethods.Diagnose, request))[0].Result).CodeVersions!;

        // When it is optimised depends on what else this process compiles; in a worker of its own, the tool's tests see it.
        Assert.Equal(CodeTier.Quick, versions[0].Tier);
        Assert.All(versions.Zip(versions.Skip(1)),
            pair => Assert.True(pair.First.Milliseconds <= pair.Second.Milliseconds && pair.First.CodeBytes > 0));
    }

    [Fact]
    public void It_ends_when_told()
    {
        var replies = Ask(Request(WorkerMethods.Bye, Empty.Instance), Request(WorkerMethods.Hello, Empty.Instance));

        Assert.Single(replies);
    }

    [Fact]
    public void A_reading_crosses_as_an_array_and_comes_back_the_same()
    {
        var reading = new Reading
        {
            Round = 1, Place = 2, Cell = 3, Calls = 4, ElapsedNanoseconds = 5, ProcessorNanoseconds = 6, AllocatedBytes = 7,
            CollectionsGen0 = 3, CollectionsGen1 = 2, CollectionsGen2 = 1, PauseNanoseconds = 8, CompiledMethods = 9, LockContentions = 10,
            IsCollectionHeld = true,
        };

        var bare = new Reading { Round = 1, Place = 2, Cell = 3, Calls = 4, ElapsedNanoseconds = 5, ProcessorNanoseconds = 6 };
        Reading[] readings =
        [
            reading, reading with { ProcessorNanoseconds = null,
                IsCollectionHeld = null }, bare, bare with { AllocatedBytes = 7 }, bare with { IsCollectionHeld = false },
        ];

        var line = new JsonLine();
        line.Write(new ReadReply { Readings = [.. readings] });
        var json = JsonElement.Parse(line.Written);

        // Zeros at its end are not worth a million times their room.
        Assert.Equal(
            "[[1,2,3,4,5,6,7,3,2,1,8,9,10,1],[1,2,3,4,5,null,7,3,2,1,8,9,10],[1,2,3,4,5,6],[1,2,3,4,5,6,7],[1,2,3,4,5,6,0,0,0,0,0,0,0,0]]",
            json.GetProperty("readings").GetRawText());
        Assert.Equal(readings, Replies.FromElement<ReadReply>(json).Readings);
        Assert.Equal(readings[2],
            Replies.FromElement<ReadReply>(JsonElement.Parse("{\"readings\":[[1,2,3,4,5,6,0,0,0,0,0,0,0,null]]}")).Readings[0]);
        Assert.Equal(ReadingColumns.Names.Count, json.GetProperty("readings")[0].GetArrayLength());
    }

    [Fact]
    public void Stages_count_what_lies_inside_them_at_any_depth_and_in_any_order()
    {
        StageRecorder.Begin();
        for (var call = 0; call < 5; call++)
        {
            using var outer = Stage.Open("outer");
            for (var part = 0; part < 3; part++)
            {
                using var middle = Stage.Open(part == 1 ? "odd" : "even");
                using var inner = Stage.Open(new string("inner"));
            }
        }

        var stages = StageRecorder.End().ToDictionary(stage => stage.Stage, stage => (stage.Count, stage.CountInside));

        Assert.Null(StageRecorder.Mistake);
        Assert.Equal((5, 30), stages["outer"]);
        Assert.Equal((10, 10), stages["outer › even"]);
        Assert.Equal((5, 5), stages["outer › odd"]);
        Assert.Equal((10, 0), stages["outer › even › inner"]);
        Assert.Equal(5, stages.Count);
    }

    [Theory]
    [InlineData("[1,2,3]", "found EndArray")]
    [InlineData("[1,2,3,0,5,6,7,3,2,1,8,9,0,null]", "at least one call, not 0")]
    [InlineData("[1,2,3,4,5,6,7,3,2,1,8,9,10,1,2]", "this one has more")]
    [InlineData("{}", "not a StartObject")]
    [InlineData("[1,2,\"x\"]", "found String")]
    public void A_reading_that_is_none_is_refused_with_the_reason(string text, string reason)
    {
        var message = Assert.Throws<JsonException>(() => Replies.FromLine<ReadReply>($"{{\"readings\":[{text}]}}")).Message;

        Assert.Contains(reason, message, StringComparison.Ordinal);
    }

    internal static string Request<T>(string method, T parameters)
        => Replies.ToLine(new RpcRequest { Id = 1, Method = method, Parameters = Replies.ToElement(parameters) });

    private sealed class Dark
    {
#pragma warning disable CA1065 // What is to be lived with.
        public override string ToString() => throw new InvalidOperationException("dark");
#pragma warning restore CA1065
    }

    private static List<RpcReply> Ask(params string[] lines) => AskOf(Sound, lines);

    internal static List<RpcReply> AskOf(Study study, params string[] lines)
    {
        using var requests = new MemoryStream(Encoding.UTF8.GetBytes(string.Join('\n', lines) + "\n"));
        using var replies = new MemoryStream();
        new Worker([study], requests, replies).Serve();
        return [.. Encoding.UTF8.GetString(replies.ToArray()).Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(Replies.FromLine<RpcReply>)];
    }
}