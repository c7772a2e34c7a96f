using System.Collections;
using System.Reflection;
using System.Text;
using System.Text.Json;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Wire;
using Tachyscope.Working;

namespace Tachyscope.Tests;

/// <summary>What a worker reads and writes by hand, against a serialiser that knows nothing of it.</summary>
public sealed class WireTests
{
    [Fact]
    public void Every_member_of_a_request_arrives()
    {
        AssertSame(Filled<OpenRequest>(), parameters => Requests.Open(parameters));
        AssertSame(Filled<WarmRequest>(), parameters => Requests.Warm(parameters));
        AssertSame(Filled<ReadRequest>(), parameters => Requests.Read(parameters));

        static void AssertSame<T>(T sent, Func<byte[], T> read)
            => Assert.Equal(Replies.ToLine(sent), Replies.ToLine(read(Encoding.UTF8.GetBytes(Replies.ToLine(sent)))));
    }

    [Fact]
    public void Every_member_of_a_reply_arrives()
    {
        AssertSame(Filled<HelloReply>(), (line, reply) => line.Write(reply));
        AssertSame(Filled<OpenReply>(), (line, reply) => line.Write(reply));
        // What leaves it to the tool to say when it is warm is no worker of this library.
        AssertSame(Filled<WarmReply>() with { Slices = [], Gauges = [] }, (line, reply) => line.Write(reply));
        AssertSame(Filled<ReadReply>(), (line, reply) => line.Write(reply));
        AssertSame(new CompileReply { Codes = [null, Filled<CellCode>()] }, (line, reply) => line.Write(reply));
        AssertSame(Filled<RpcError>(), (line, reply) => line.Write(reply));

        static void AssertSame<T>(T sent, Action<JsonLine, T> write)
        {
            var line = new JsonLine();
            write(line, sent);
            Assert.Equal(Replies.ToLine(sent), Replies.ToLine(Replies.FromLine<T>(Encoding.UTF8.GetString(line.Written))));
        }
    }

    [Fact]
    public void What_is_not_there_has_its_default_and_what_is_not_known_is_passed_over()
    {
        var read = Requests.Read("""
            {"fog":{"a":[1,{"b":"}"},-2.5e+3,true,null]},"metronome":1,"processors":null,"rounds":[ { "round" : 2, "processor":null,
            "cells" : [ ] , "fog":[] } ] }
            """u8);

        Assert.Equal((1, 5, null, 0), (read.Metronome, read.ReadingsPerTurn, read.Processors, read.QuietGauge));
        var round = Assert.Single(read.Rounds);
        Assert.Equal((2, null, 0, 0), (round.Round, round.Processor, round.FirstPlace, round.Cells.Count));
        Assert.Equal(Replies.ToLine(new WarmRequest { Cells = [] }), Replies.ToLine(Requests.Warm("""{"cells":[]}"""u8)));
    }

    [Theory]
    [InlineData("""{"id":7,"params":{"a":[1]},"method":"read","jsonrpc":"2.0"}""", 7L, "read", """{"a":[1]}""")]
    [InlineData(""" { "\u0069d" : -3 , "method" : "\u0072e\u0061d" , "params" : null }""", -3L, "read", "")]
    [InlineData("""{"id":null,"method":"a\"\\\/\n"}""", null, "a\"\\/\n", "")]
    [InlineData("""{"id":-9223372036854775808,"method":"ü"}""", long.MinValue, "ü", "")]
    public void A_request_is_read_however_it_is_written(string line, long? id, string method, string parameters)
    {
        var found = Requests.Envelope(Encoding.UTF8.GetBytes(line), out var rest);

        Assert.Equal((id, method, parameters), (found.Id, found.Method, Encoding.UTF8.GetString(rest)));
    }

    [Theory]
    [InlineData("")]
    [InlineData("[]")]
    [InlineData("null")]
    [InlineData("{\"id\":1")]
    [InlineData("{\"id\":1,}")]
    [InlineData("{,\"id\":1}")]
    [InlineData("{\"id\":1 \"method\":\"read\"}")]
    [InlineData("{\"id\":\"1\",\"method\":\"read\"}")]
    [InlineData("{\"id\":1.5,\"method\":\"read\"}")]
    [InlineData("{\"id\":01,\"method\":\"read\"}")]
    [InlineData("{\"id\":9223372036854775808,\"method\":\"read\"}")]
    [InlineData("{\"id\":99999999999999999999,\"method\":\"read\"}")]
    [InlineData("{\"id\":-,\"method\":\"read\"}")]
    [InlineData("{\"id\":1,\"method\":\"re\nad\"}")]
    [InlineData("{\"id\":1,\"method\":\"re\\qad\"}")]
    [InlineData("{\"id\":1,\"method\":\"\\u00g0\"}")]
    [InlineData("{\"id\":1,\"method\":\"\\u00\"}")]
    [InlineData("{\"id\":1,\"method\":\"read\\")]
    [InlineData("{\"id\":1,\"method\":\"read\"}}")]
    [InlineData("{\"id\":1,\"method\":\"read\",\"params\":{\"a\":tru}}")]
    [InlineData("{\"id\":1,\"method\":\"read\",\"params\":{\"a\":1.}}")]
    [InlineData("{\"id\":1,\"method\":\"read\",\"params\":[1,]}")]
    [InlineData("{\"id\":1}")]
    public void What_is_no_request_is_told_as_such(string line)
        => Assert.NotEmpty(Assert.Throws<JsonException>(() => Requests.Envelope(Encoding.UTF8.GetBytes(line), out _)).Message);

    [Fact]
    public void No_depth_of_nesting_ends_the_process()
    {
        var line = $"{{\"id\":1,\"method\":\"read\",\"params\":{new string('[', 1_000_000)}";

        var message = Assert.Throws<JsonException>(() => Requests.Envelope(Encoding.UTF8.GetBytes(line), out _)).Message;

        Assert.Contains("deep", message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("""{"study":"x","seed":1,"cells":[{"kind":"fog","loop":{}}]}""", "\"fog\" is none of variant, twin, ")]
    [InlineData("""{"study":"x","seed":1,"cells":[{"kind":"variant"}]}""", "names no loop")]
    [InlineData("""{"study":"x","seed":1,"cells":[{"loop":{}}]}""", "no \"kind\"")]
    [InlineData("""{"study":"x","seed":1}""", "no \"cells\"")]
    [InlineData("""{"study":"x","seed":3000000000,"cells":[]}""", "a smaller number")]
    [InlineData("", "no parameters")]
    public void What_cannot_be_opened_is_told_with_its_reason(string parameters, string reason)
        => Assert.Contains(reason, Assert.Throws<JsonException>(() => Requests.Open(Encoding.UTF8.GetBytes(parameters))).Message,
            StringComparison.Ordinal);

    [Fact]
    public void What_is_rehearsed_is_a_request_that_can_be_answered()
    {
        Assert.Equal(WorkerMethods.Warm, Requests.Envelope(Rehearsal.WarmLine, out var warm).Method);
        Assert.Equal([0, 1], Requests.Warm(warm).Cells);
        Assert.Equal(WorkerMethods.Read, Requests.Envelope(Rehearsal.ReadLine, out var read).Method);
        Assert.Equal([1, 1], Requests.Read(read).Rounds.SelectMany(round => round.Cells));
    }

    [Fact]
    public void Words_are_those_of_the_enumerations()
    {
        Assert.Equal(Words<CellKind>(), Requests.Kinds);
        Assert.Equal(Words<CallPath>(), Requests.Paths);
        Assert.Equal(Words<CallOrder>(), Requests.Orders);
        Assert.Equal(Words<InputSupply>(), Requests.Supplies);
        Assert.Equal(Words<ResultKind>(), Requests.Results);
        Assert.Equal(Words<CodeTier>(), Tachyscope.Wire.Replies.Tiers);

        static string[] Words<T>() where T : struct, Enum
            => [.. Enum.GetNames<T>().Select(name => char.ToLowerInvariant(name[0]) + name[1..])];
    }

    [Theory]
    [InlineData(0, "0")]
    [InlineData(-17, "-17")]
    [InlineData(0.25, "0.250000")]
    [InlineData(-1234.5678901, "-1234.567890")]
    [InlineData(0.9999999, "1.000000")]
    [InlineData(9007199254740992, "9007199254740992")]
    [InlineData(1e300, "1E+300")]
    [InlineData(1234567890.125, "1234567890.125")]
    [InlineData(double.NaN, "null")]
    [InlineData(double.PositiveInfinity, "null")]
    public void A_number_is_written_to_a_millionth(double number, string written)
    {
        var line = new JsonLine();

        line.Number(number);

        Assert.Equal(written, Encoding.UTF8.GetString(line.Written));
    }

    [Fact]
    public void Any_text_and_any_whole_number_come_back()
    {
        string[] texts = ["", "a \"lamp\" \\ is lit", "über der See 🌊", "\u0000\t\r\n\u001f", new string('~', 100_000)];
        long[] numbers = [long.MinValue, long.MaxValue, -1, 0, 10, 99, 100];
        var line = new JsonLine();

        line.BeginArray();
        Array.ForEach(texts, line.Text);
        Array.ForEach(numbers, line.Number);
        line.EndArray();

        var read = JsonElement.Parse(line.Written).EnumerateArray().ToList();
        Assert.Equal(texts, read.Take(texts.Length).Select(text => text.GetString()));
        Assert.Equal(numbers, read.Skip(texts.Length).Select(number => number.GetInt64()));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(7)]
    [InlineData(1_000_000)]
    public void Lines_come_whole_however_they_arrive(int bytesAtOnce)
    {
        var longest = new string('x', 200_000);
        var reader = new LineReader(new InPieces(Encoding.UTF8.GetBytes($"one\r\n\n{longest}\nlast"), bytesAtOnce));
        List<string> lines = [];
        while (reader.TryRead(out var line))
        {
            lines.Add(Encoding.UTF8.GetString(line));
        }

        Assert.Equal(["one", "", longest, "last"], lines);
    }

    private static T Filled<T>() => (T)Filled(typeof(T), depth: 0)!;

    // A value of every member, none of them its default.
    private static object? Filled(Type type, int depth)
    {
        if (Nullable.GetUnderlyingType(type) is { } inner)
        {
            return Filled(inner, depth);
        }

        if (type.IsEnum)
        {
            return Enum.GetValues(type).GetValue(1);
        }

        if (type.IsGenericType && typeof(IEnumerable).IsAssignableFrom(type))
        {
            var items = Array.CreateInstance(type.GetGenericArguments()[0], 2);
            items.SetValue(Filled(type.GetGenericArguments()[0], depth + 1), 0);
            items.SetValue(Filled(type.GetGenericArguments()[0], depth + 1), 1);
            return items;
        }

        return type == typeof(string) ? $"lamp {depth} \"ü\""
            : type == typeof(bool) ? true
            : type == typeof(double) ? 1.5 + depth
            : type == typeof(long) ? 5_000_000_000 + depth
            : type == typeof(int) ? 3 + depth
            : Made(type, depth);
    }

    private static object Made(Type type, int depth)
    {
        var constructor = type.GetConstructors().MinBy(found => found.GetParameters().Length);
        var made = constructor is null ? Activator.CreateInstance(type)!
            : constructor.Invoke([.. constructor.GetParameters().Select(parameter => Filled(parameter.ParameterType, depth + 1))]);
        foreach (var member in type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(member => member.CanWrite))
        {
            member.SetValue(made, Filled(member.PropertyType, depth + 1));
        }

        return made;
    }

    /// <summary>A few bytes at a time.</summary>
    private sealed class InPieces(byte[] bytes, int atOnce) : MemoryStream(bytes)
    {
        public override int Read(byte[] buffer, int offset, int count) => base.Read(buffer, offset, Math.Min(count, atOnce));
    }
}
