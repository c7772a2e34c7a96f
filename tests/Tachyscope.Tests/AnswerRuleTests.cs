using Tachyscope.Answers;

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
    public void A_difference_is_told_by_its_first_place()
    {
        var text = AnswerText.Difference([1.0, 2.0, 3.0], [1.0, 2.0005, 9.0], AnswerRule<double[]>.Within(1e-3), "loop");

        Assert.Equal("answers 9 at index 2 where \"loop\" answers 3", text);
        Assert.Equal("answers 1 element where \"loop\" answers 2 elements", AnswerText.Difference([1, 2], [1], AnswerRule<int[]>.Exact, "loop"));
    }

    [Fact]
    public void A_long_answer_is_cut()
    {
        var text = AnswerText.Difference("fog", new string('x', 200), AnswerRule<string>.Exact, "loop");

        Assert.InRange(text.Length, 40, 100);
        Assert.Contains('…', text);
    }
}
