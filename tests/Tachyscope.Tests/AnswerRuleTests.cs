using System.Text;
using Tachyscope.Answers;
using Tachyscope.Protocol;

namespace Tachyscope.Tests;

public sealed class AnswerRuleTests
{
    [Fact]
    public void Exact_looks_into_sequences()
    {
        Assert.True(AnswerRule<int[]>.Exact.Agrees([1, 2], [1, 2]));
        Assert.False(AnswerRule<int[]>.Exact.Agrees([1, 2], [1, 3]));
        Assert.False(AnswerRule<int[]>.Exact.Agrees([1, 2], [1]));
        Assert.True(AnswerRule<List<string>>.Exact.Agrees(["fog"], ["fog"]));
        Assert.True(AnswerRule<double>.Exact.Agrees(double.NaN, double.NaN));
        Assert.False(AnswerRule<string?>.Exact.Agrees("fog", null));
    }

    [Theory]
    [InlineData(1.0, 1.0 + 1e-10, true)]
    [InlineData(1.0, 1.0 + 1e-8, false)]
    [InlineData(1e12, 1e12 + 100, true)]
    [InlineData(0.0, 1e-10, true)]
    [InlineData(double.NaN, double.NaN, true)]
    [InlineData(double.NaN, 1.0, false)]
    [InlineData(double.PositiveInfinity, double.PositiveInfinity, true)]
    public void A_tolerance_is_a_share_of_the_larger_magnitude_or_of_one(double one, double other, bool agrees)
        => Assert.Equal(agrees, AnswerRule<double>.Within(1e-9).Agrees(one, other));

    [Fact]
    public void A_tolerance_applies_to_every_element()
    {
        Assert.True(AnswerRule<float[]>.Within(1e-3).Agrees([1f, 2f], [1.0005f, 2f]));
        Assert.False(AnswerRule<float[]>.Within(1e-3).Agrees([1f, 2f], [1f, 2.1f]));
    }

    [Fact]
    public void Moments_that_differ_by_less_than_a_second_are_told_apart()
    {
        var dusk = new DateTime(2026, 3, 4, 17, 30, 1, DateTimeKind.Utc);

        Assert.Equal("answers 2026-03-04T17:30:01.0010000Z where \"clock\" answers 2026-03-04T17:30:01.0000000Z",
            AnswerText.Difference(dusk, dusk.AddMilliseconds(1), AnswerRule<DateTime>.Exact, "clock"));
    }

    [Fact]
    public void A_difference_is_told_by_its_first_place()
    {
        var text = AnswerText.Difference([1.0, 2.0, 3.0], [1.0, 2.0005, 9.0], AnswerRule<double[]>.Within(1e-3), "loop");

        Assert.Equal("answers 9 at index 2 where \"loop\" answers 3", text);
        Assert.Equal("answers 1 element where \"loop\" answers 2 elements",
            AnswerText.Difference([1, 2], [1], AnswerRule<int[]>.Exact, "loop"));
    }

    [Fact]
    public void A_long_answer_is_cut()
    {
        var text = AnswerText.Difference("fog", new string('x', 200), AnswerRule<string>.Exact, "loop");

        Assert.InRange(text.Length, 40, 100);
        Assert.Contains('…', text);
    }

    [Fact]
    public void Answers_that_hold_the_same_are_written_down_alike_and_others_are_not()
    {
        string? Hash(object? answer) => AnswerDigester.Of(answer, 0)!.Hash;
        (object? One, object? Other)[] alike = [(new[] { 1, 2 }, new List<int> { 1, 2 }),
            (new[] { 1, -2, 0 }, new HashSet<long> { 1, -2, 0 }),
            (new[] { 1.5, -0.0 }, new Queue<double>([1.5, 0])), (new[] { 7L }, (IEnumerable<int>)[7]),
            (0.0, -0.0), ((1, "fog"), (1, "fog")),
            (null, null), (new Buoy("a", 1), new Buoy("a", 1))];
        (object? One, object? Other)[] unlike = [(new[] { 1, 2 }, new[] { 12 }), (new[] { "a", "bc" }, new[] { "ab", "c" }),
            ((1, 2), (2, 1)), (new int[][] { [1], [2] }, new int[][] { [1, 2] }), (1.0, 1.0000000000000002),
            (new Buoy("a", 1), new Buoy("a", 2))];

        Assert.All(alike, pair => Assert.Equal(Hash(pair.One), Hash(pair.Other)));
        Assert.All(unlike, pair => Assert.NotEqual(Hash(pair.One), Hash(pair.Other)));
        Assert.Null(Hash(new object()));
        Assert.Null(Hash(System.Collections.Immutable.ImmutableDictionary<string, int>.Empty.Add("fog", 1)));
        Assert.Null(Hash(System.Collections.Frozen.FrozenSet.ToFrozenSet(["fog", "dawn", "dusk"])));
        Assert.NotNull(Hash(new HashSet<string> { "fog" }));
        Assert.NotNull(Hash(System.Collections.Immutable.ImmutableArray.Create("fog")));
        Assert.Null(Hash(new object[] { 1, new() }));
        Assert.Equal([1, 2.5], AnswerDigester.Of(new[] { 1f, 2.5f }, 1e-6)!.Numbers);
        var reply = new CheckReply { Answer = AnswerDigester.Of(new[] { 1, double.NaN, double.NegativeInfinity }, 1e-6) };
        Assert.Contains("\"numbers\":[1,\"NaN\",\"-Infinity\"]", Encoding.UTF8.GetString(ProtocolText.ToJson(reply)),
            StringComparison.Ordinal);
        Assert.Equal("[1, 2, 3, 4, 5, 6, …]", AnswerDigester.Of(Enumerable.Range(1, 9), 0)!.Text);
    }

    private sealed record Buoy(string Name, int Number);
}
