namespace Tachyscope.Reasons;

/// <summary>Over the signals of a harbour: the slower variant stands first, the faster one second; what differs is in the study's
/// name.</summary>
internal static class Signals
{
    private const int Count = 256;

    private interface ISignal
    {
        int Strength { get; }
    }

    public static Study Allocations => Study.Of("allocations").Input("strengths", Strengths)
        .Baseline("slow", strengths =>
        {
            Lamp? last = null;
            var sum = 0;
            foreach (var strength in strengths)
            {
                last = new Lamp(strength, last is { Strength: > 900 } ? last : null);
                sum += last.Strength;
            }

            return sum + (last?.Strength == -1 ? 1 : 0);
        })
        .Variant("fast", strengths =>
        {
            var last = default(Flash);
            var sum = 0;
            foreach (var strength in strengths)
            {
                last = new Flash(strength);
                sum += last.Strength;
            }

            return sum + (last.Strength == -1 ? 1 : 0);
        });

    public static Study IndirectCalls => Study.Of("indirect calls").Input("signals", Mixed)
        .Baseline("slow", mixed =>
        {
            var sum = 0;
            foreach (var signal in mixed.Signals)
            {
                sum += signal.Strength;
            }

            return sum == -1 ? 1 : 0;
        })
        .Variant("fast", mixed =>
        {
            var sum = 0;
            foreach (var lamp in mixed.Lamps)
            {
                sum += lamp.Strength;
            }

            return sum == -1 ? 1 : 0;
        });

    public static Study TypeChecks => Study.Of("type checks").Input("signals", Mixed)
        .Baseline("slow", mixed =>
        {
            var sum = 0;
            foreach (var signal in mixed.Objects)
            {
                sum += signal is Marker marker ? marker.Strength : 1;
            }

            return sum == -1 ? 1 : 0;
        })
        .Variant("fast", mixed =>
        {
            var sum = 0;
            foreach (var marker in mixed.Markers)
            {
                sum += marker is not null ? marker.Strength : 1;
            }

            return sum == -1 ? 1 : 0;
        });

    public static Study WriteBarriers => Study.Of("write barriers").Input("signals", Mixed)
        .Baseline("slow", mixed =>
        {
            var (from, to) = (mixed.Slots, mixed.OtherSlots);
            for (var i = 0; i < from.Length && i < to.Length; i++)
            {
                to[i].Lamp = from[i].Lamp;
            }

            return to.Length;
        })
        .Variant("fast", mixed =>
        {
            var (from, to) = (mixed.Numbers, mixed.OtherNumbers);
            for (var i = 0; i < from.Length && i < to.Length; i++)
            {
                to[i].Number = from[i].Number;
            }

            return to.Length;
        });

    public static Study Copies => Study.Of("copies").Input("signals", Mixed)
        .Baseline("slow", mixed =>
        {
            var sum = 0L;
            foreach (var wide in mixed.Wide)
            {
                sum += Weight(wide);
            }

            return sum == -1 ? 1 : 0;
        })
        .Variant("fast", mixed =>
        {
            var sum = 0L;
            foreach (ref readonly var wide in mixed.Wide.AsSpan())
            {
                sum += WeightOf(in wide);
            }

            return sum == -1 ? 1 : 0;
        });

    private static int[] Strengths() => [.. Enumerable.Range(1, Count)];

    private static Mix Mixed() => new();

    [System.Runtime.CompilerServices.MethodImpl(System.Runtime.CompilerServices.MethodImplOptions.NoInlining)]
    private static long Weight(Wide wide) => wide.A + wide.H;

    [System.Runtime.CompilerServices.MethodImpl(System.Runtime.CompilerServices.MethodImplOptions.NoInlining)]
    private static long WeightOf(in Wide wide) => wide.A + wide.H;

    private sealed class Mix
    {
        public ISignal[] Signals { get; } = [.. Enumerable.Range(0, Count)
            .Select(index => (ISignal)((index % 3) switch { 0 => new Lamp(index, null), 1 => new Horn(index), _ => new Bell(index) }))];

        public Lamp[] Lamps { get; } = [.. Enumerable.Range(0, Count).Select(index => new Lamp(index, null))];

        public object[] Objects { get; } = [.. Enumerable.Range(0, Count)
            .Select(index => (object)((index % 2) switch { 0 => new Marker(index), _ => new Light(index) }))];

        public Marker[] Markers { get; } = [.. Enumerable.Range(0, Count).Select(index => new Marker(index))];

        public Slot[] Slots { get; } = [.. Enumerable.Range(0, Count).Select(index => new Slot { Lamp = new Lamp(index, null) })];

        public Slot[] OtherSlots { get; } = new Slot[Count];

        public Numbered[] Numbers { get; } = new Numbered[Count];

        public Numbered[] OtherNumbers { get; } = new Numbered[Count];

        public Wide[] Wide { get; } = [.. Enumerable.Range(0, Count).Select(index => new Wide(index, 0, 0, 0, 0, 0, 0, 1))];
    }

    private sealed class Lamp(int strength, Lamp? before) : ISignal
    {
        public int Strength => strength;

        public Lamp? Before => before;
    }

    private sealed class Horn(int strength) : ISignal
    {
        public int Strength => strength * 2;
    }

    private sealed class Bell(int strength) : ISignal
    {
        public int Strength => strength * 3;
    }

    private class Marker(int strength)
    {
        public int Strength => strength;
    }

    private sealed class Light(int strength) : Marker(strength);

    private readonly record struct Flash(int Strength);

    private struct Slot
    {
        public Lamp? Lamp;
    }

    private struct Numbered
    {
        public long Number;
    }

    private readonly record struct Wide(long A, long B, long C, long D, long E, long F, long G, long H);
}
