using System.Runtime.CompilerServices;

namespace Tachyscope.Bench.Studies;

/// <summary>Sixty-four steps, each put into its caller or called in one of the ways there are.</summary>
internal static class Calls
{
    private const int Count = 64;

    public static Study Study { get; } = Study.Of("calls: in every way").Input("sixty-four", () => new Ways())
        .Baseline("put in", PutIn).Variant("plain", Plain).Variant("virtual", Virtual).Variant("interface", Interface)
        .Variant("delegate", Delegates);

    private static long PutIn(Ways ways)
    {
        var value = 1L;
        for (var call = 0; call < Count; call++)
        {
            value += ways.Steps[call & 7];
        }

        return value;
    }

    private static long Plain(Ways ways)
    {
        var value = 1L;
        for (var call = 0; call < Count; call++)
        {
            value = Next(value, ways.Steps[call & 7]);
        }

        return value;
    }

    private static long Virtual(Ways ways)
    {
        var value = 1L;
        for (var call = 0; call < Count; call++)
        {
            value = ways.Links[call & 7].Next(value);
        }

        return value;
    }

    private static long Interface(Ways ways)
    {
        var value = 1L;
        for (var call = 0; call < Count; call++)
        {
            value = ways.Interfaces[call & 7].Next(value);
        }

        return value;
    }

    private static long Delegates(Ways ways)
    {
        var value = 1L;
        for (var call = 0; call < Count; call++)
        {
            value = ways.Delegates[call & 7](value);
        }

        return value;
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static long Next(long value, int step) => value + step;

    private interface ILink
    {
        long Next(long value);
    }

    private sealed class Ways
    {
        public Ways()
        {
            Links = [new One(), new Two(), new Three(), new Five(), new One(), new Three(), new Two(), new Five()];
            Interfaces = [.. Links];
            Delegates = [.. Links.Select(link => (Func<long, long>)link.Next)];
        }

        public int[] Steps { get; } = [1, 2, 3, 5, 1, 3, 2, 5];

        public Link[] Links { get; }

        public ILink[] Interfaces { get; }

        public Func<long, long>[] Delegates { get; }
    }

    private abstract class Link : ILink
    {
        public abstract long Next(long value);
    }

    private sealed class One : Link
    {
        public override long Next(long value) => value + 1;
    }

    private sealed class Two : Link
    {
        public override long Next(long value) => value + 2;
    }

    private sealed class Three : Link
    {
        public override long Next(long value) => value + 3;
    }

    private sealed class Five : Link
    {
        public override long Next(long value) => value + 5;
    }
}
