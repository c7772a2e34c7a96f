using System.Collections.Concurrent;
using Tachyscope.Measuring;

namespace Tachyscope.Tests;

/// <summary>What of an answer the next call waits for: whatever changes in it has to change the number that is made of it.</summary>
public sealed class DependenceTests
{
    private enum Lamp
    {
        Dark,
        Lit,
    }

    private class Buoy(int place)
    {
        public int Place { get; } = place;

        private readonly double _depth = place / 2.0;

        public double Depth => _depth;
    }

    private sealed class DeepBuoy(int place, long chain) : Buoy(place)
    {
        public long Chain { get; } = chain;
    }

    private sealed record Sounding(string? Ship, (short Minute, bool IsSure) When, int Depth);

    private readonly record struct Signal(Lamp Lamp, nint Place, Int128 Code, int? Repeat, string? Ship);

    [Fact]
    public void Whatever_changes_in_an_answer_changes_the_number()
    {
        Differ<int?>(4, null, 7);
        Differ((true, 5L), (false, 5L), (true, 6L));
        Differ(1.5m, -1.5m, 1.25m, 79_228_162_514_264_337_593_543_950_335m);
        Differ(new Signal(Lamp.Lit, 1, 2, 3, null), new Signal(Lamp.Dark, 1, 2, 3, null), new Signal(Lamp.Lit, 9, 2, 3, null),
            new Signal(Lamp.Lit, 1, 8, 3, null), new Signal(Lamp.Lit, 1, 2, 4, null));
        Differ<Sounding?>(null, new(null, (1, true), 2), new(null, (2, true), 2), new(null, (1, false), 2), new(null, (1, true), 7));
        Differ<Buoy>(new(6), new(8));
        Differ<DeepBuoy>(new(6, 1), new(6, 2), new(7, 1));
        Differ("fog", "fig", "fogs", "fop", "");
        Differ<int[]>([], [1], [2], [1, 2], [1, 3]);
        Differ<object>(1, 2, 3L, "fog", new Signal(Lamp.Lit, 1, 2, 3, null), new DeepBuoy(6, 1), new DeepBuoy(6, 2));
        Differ<IComparable>(5, 'a', 2.5);
        Differ(DateTime.UnixEpoch, DateTime.UnixEpoch.AddTicks(1));
        Differ(TimeSpan.Zero, TimeSpan.FromTicks(1));
    }

    [Fact]
    public void An_answer_of_a_thousand_fields_is_read_in_its_first_ones()
        => Assert.InRange(Dependences.PartsOf(typeof(ConcurrentDictionary<string, decimal>)).Count, 1, 32);

    [Fact]
    public void What_tells_nothing_of_its_fields_is_read_where_it_begins_and_ends()
    {
        Assert.Equal(Dependence.Contents, Dependences.Of(typeof(object)));
        Assert.Equal(Dependence.Contents, Dependences.Of(typeof(IComparable)));
        Assert.Equal(Dependence.Contents, Dependences.Of(typeof(string)));
        Assert.Equal(Dependence.Parts, Dependences.Of(typeof(Buoy)));
        Assert.Equal(Dependence.Parts, Dependences.Of(typeof(decimal)));
        Assert.Equal(Dependence.Number, Dependences.Of(typeof(Lamp)));
        Assert.True(Dependences.IsNumber(typeof(float)));
        Assert.Equal(0, ContentBits.Of(null));
        Assert.NotEqual(ContentBits.Of(new long[] { 0, 0, 1 }), ContentBits.Of(new long[] { 0, 0, 2 }));
        Assert.NotEqual(ContentBits.Of(new string('~', 100) + "a"), ContentBits.Of(new string('~', 100) + "b"));
    }

    // Each from the first.
    private static void Differ<T>(params T[] answers)
    {
        var reading = ResultBits.Reading<T>();
        Assert.NotNull(reading);
        long[] bits = [.. answers.Select(answer => ResultBits.Of(ref answer, reading))];
        Assert.DoesNotContain(bits[0], bits[1..]);
        Assert.Equal(bits, answers.Select(answer => ResultBits.Of(ref answer, reading)));
    }
}
