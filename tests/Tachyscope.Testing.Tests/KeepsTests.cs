namespace Tachyscope.Testing.Tests;

public sealed class KeepsTests
{
    private static readonly TimeSpan Short = TimeSpan.FromMilliseconds(300);
    private static readonly int[] Lamps = [.. Enumerable.Range(0, 1_000)];

    [Fact]
    public void Bytes_are_exact()
    {
        Keeps.Bytes(0, () => Lamps.Length);
        // An array of eight numbers: its header, its length, its elements.
        Keeps.Bytes(56, () => new int[8]);

        var broken = Assert.Throws<LimitBrokenException>(() => Keeps.Bytes(55, () => new int[8], Short));
        Assert.Equal("56 bytes a call are allocated, and 55 were allowed.", broken.Message);
        // Once in a hundred calls is more than never.
        var calls = 0;
        Assert.Throws<LimitBrokenException>(() => Keeps.Bytes(0, () => calls++ % 50 == 0 ? new int[8] : Lamps, Short));
    }

    [Fact]
    public void Answers_are_compared_element_by_element_and_the_input_is_told()
    {
        Keeps.Answers([1, 2, 3], count => Enumerable.Range(0, count).ToArray(), count => [.. Enumerable.Range(0, count)]);
        Keeps.Answers(["lamp"], text => text.Length, text => text.Length);

        var broken = Assert.Throws<LimitBrokenException>(() => Keeps.Answers([1, 2, 3], count => count * 2, count => count + 2));
        Assert.Equal("on input 1, 1, the answer is 3 and should be 2.", broken.Message);
    }

    [Fact]
    public void Sequences_are_told_by_their_elements_and_where_they_differ()
    {
        string Told<TResult>(Func<string, TResult> expected, Func<string, TResult> operation)
            => Assert.Throws<LimitBrokenException>(() => Keeps.Answers(["fog"], expected, operation)).Message;
        var asked = 0;
        IEnumerable<int> Once() => asked++ == 0 ? Lamps.Take(12) : throw new InvalidOperationException("asked again");

        Assert.Equal("on input 1, \"fog\", the answer is [1, 3] and should be [1, 2]: at index 1 it is 3, not 2.",
            Told<int[]>(_ => [1, 2], _ => [1, 3]));
        Assert.Equal("on input 1, \"fog\", the answer is [0.5] and should be [0.5, null]: it has 1 element, not 2.",
            Told<double?[]>(_ => [0.5, null], _ => [0.5]));
        Assert.Equal("on input 1, \"fog\", the answer is [0, 1, 2, 3, 4, 5, 6, 7, …] and should be [0, 1, 2, 3, 4, 5, 6, 7, …]: "
            + "at index 11 it is 7, not 11.", Told(_ => Once(), _ => [.. Lamps.Take(11), 7]));
    }

    [Fact]
    public void Growth_is_held_to_a_power()
    {
        Keeps.Growth(1, [100, 10_000], Made, lamps => Sum(lamps));
        Keeps.Growth(2, [50, 800], Made, lamps => Pairs(lamps));

        var broken = Assert.Throws<LimitBrokenException>(() => Keeps.Growth(1, [50, 3_200], Made, lamps => Pairs(lamps),
            TimeSpan.FromSeconds(1)));
        Assert.Matches(@"^from 50 to 3200 the time grows [\d.]+ times, as the power \d\.\d\d; 1 was allowed\.$", broken.Message);
        Assert.Throws<ArgumentException>(() => Keeps.Growth(1, [100, 200], Made, lamps => Sum(lamps)));
    }

    [Fact]
    public void What_takes_many_times_as_long_is_told_and_what_takes_as_long_is_not()
    {
        var (few, many) = (Made(500), Made(50_000));

        Keeps.Pace(() => Sum(many), () => Sum(few));
        Keeps.Pace(() => Sum(few), () => Sum(few));

        var broken = Assert.Throws<LimitBrokenException>(() => Keeps.Pace(() => Sum(few), () => Sum(many),
            within: TimeSpan.FromSeconds(1)));
        Assert.Matches(@"^it takes [\d.]+ times as long as the other, and 1\.5 times were allowed\.$", broken.Message);
        Assert.Throws<ArgumentOutOfRangeException>(() => Keeps.Pace(() => Sum(few), () => Sum(few), margin: 0.01));
    }

    private static int[] Made(int count) => [.. Enumerable.Range(0, count)];

    private static long Sum(int[] lamps)
    {
        var sum = 0L;
        foreach (var lamp in lamps)
        {
            sum += lamp;
        }

        return sum;
    }

    private static long Pairs(int[] lamps)
    {
        var pairs = 0L;
        foreach (var one in lamps)
        {
            foreach (var other in lamps)
            {
                pairs += one ^ other;
            }
        }

        return pairs;
    }
}
