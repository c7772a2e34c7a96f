using System.Linq.Expressions;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Tachyscope.Bench.Studies;

/// <summary>
/// The same chains in every shape an operation may have. A variant's name is its number of links; what the shape itself
/// costs beside them, such as the load of a field, is the same in all.
/// </summary>
internal static class Shapes
{
    private static readonly object[] Boxes = [new(), new()];
    private static readonly StrongBox<int>[] Numbered = [new(1), new(2)];
    private static readonly byte[] Bytes = new byte[64];
    // Not readonly: the compiler would take it for the constant that it is.
    private static long s_zero = Environment.TickCount64 < 0 ? 1 : 0;
    private static int s_state = 1;

    public static Study[] All =>
    [
        Whole, Long, Floating, Field, Reference, Small, Large, Span, Void, Capturing, Dialled, Prepared, Each, Mixed, Enumerated,
        Class, Boxed, Record, Open, Nullable, Tuple, Decimal, Predicate, Decided, Delegated, DelegatedRecord, DelegatedTuple,
        AtOnce, Later, OneThread, TwoThreads,
    ];

    private static Study Whole => Numbers("int to int")
        .Baseline("1", Links.Chain1).Variant("4", Links.Chain4).Variant("16", Links.Chain16).Variant("64", Links.Chain64)
        .Agree((_, _) => true);

    private static Study Long => Study.Of("long to long").Input("a number", () => 12_345L)
        .Baseline("1", x => (long)Links.Chain1((int)x)).Variant("4", x => Links.Chain4((int)x)).Variant("16", x => Links.Chain16((int)x))
        .Variant("64", x => Links.Chain64((int)x))
        .Agree((_, _) => true);

    // A multiplication of doubles takes four cycles as well.
    private static Study Floating => Study.Of("double to double").Input("a number", () => 1.000_001)
        .Baseline("1", x => Four(x, 0) * 1.000_001).Variant("4", x => Four(x, 1)).Variant("16", x => Four(x, 4))
        .Variant("64", x => Four(x, 16))
        .Agree((_, _) => true);

    private static Study Field => Study.Of("object to int").Input("a number in an object", () => new StrongBox<int>(12_345))
        .Baseline("1", x => Links.Chain1(x.Value)).Variant("4", x => Links.Chain4(x.Value)).Variant("16", x => Links.Chain16(x.Value))
        .Variant("64", x => Links.Chain64(x.Value))
        .Agree((_, _) => true);

    private static Study Reference => Numbers("int to object")
        .Baseline("1", x => Box(Links.Chain1(x))).Variant("4", x => Box(Links.Chain4(x))).Variant("16", x => Box(Links.Chain16(x)))
        .Variant("64", x => Box(Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study Class => Numbers("int to class")
        .Baseline("1", x => Number(Links.Chain1(x)))
        .Variant("4", x => Number(Links.Chain4(x)))
        .Variant("16", x => Number(Links.Chain16(x)))
        .Variant("64", x => Number(Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study Small => Numbers("int to 16 bytes")
        .Baseline("1", x => new Pair(Links.Chain1(x), x)).Variant("4", x => new Pair(Links.Chain4(x), x))
        .Variant("16", x => new Pair(Links.Chain16(x), x)).Variant("64", x => new Pair(Links.Chain64(x), x)).Agree((_, _) => true);

    private static Study Large => Numbers("int to 128 bytes")
        .Baseline("1", x => new Block(Links.Chain1(x))).Variant("4", x => new Block(Links.Chain4(x)))
        .Variant("16", x => new Block(Links.Chain16(x))).Variant("64", x => new Block(Links.Chain64(x))).Agree((_, _) => true);

    // What is made first and worked out afterwards: its address is known long before what it holds.
    private static Study Boxed => Numbers("int to boxed int")
        .Baseline("1", object (x) => Links.Chain1(x))
        .Variant("4", object (x) => Links.Chain4(x))
        .Variant("16", object (x) => Links.Chain16(x))
        .Variant("64", object (x) => Links.Chain64(x))
        .Agree((_, _) => true);

    private static Study Record => Numbers("int to record")
        .Baseline("1", x => new Sounding(x, Links.Chain1(x)))
        .Variant("4", x => new Sounding(x, Links.Chain4(x)))
        .Variant("16", x => new Sounding(x, Links.Chain16(x)))
        .Variant("64", x => new Sounding(x, Links.Chain64(x))).Agree((_, _) => true);

    private static Study Open => Numbers("int to record behind object")
        .Baseline("1", object (x) => new Sounding(x, Links.Chain1(x)))
        .Variant("4", object (x) => new Sounding(x, Links.Chain4(x)))
        .Variant("16", object (x) => new Sounding(x, Links.Chain16(x)))
        .Variant("64", object (x) => new Sounding(x, Links.Chain64(x))).Agree((_, _) => true);

    private static Study Nullable => Numbers("int to int?")
        .Baseline("1", int? (x) => Links.Chain1(x))
        .Variant("4", int? (x) => Links.Chain4(x))
        .Variant("16", int? (x) => Links.Chain16(x))
        .Variant("64", int? (x) => Links.Chain64(x))
        .Agree((_, _) => true);

    private static Study Tuple => Numbers("int to tuple")
        .Baseline("1", x => (x > 0, Links.Chain1(x)))
        .Variant("4", x => (x > 0, Links.Chain4(x)))
        .Variant("16", x => (x > 0, Links.Chain16(x)))
        .Variant("64", x => (x > 0, Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study Decimal => Numbers("int to decimal")
        .Baseline("1", x => new decimal(Links.Chain1(x)))
        .Variant("4", x => new decimal(Links.Chain4(x)))
        .Variant("16", x => new decimal(Links.Chain16(x)))
        .Variant("64", x => new decimal(Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study Predicate => Numbers("int to bool")
        .Baseline("1", x => (Links.Chain1(x) & 1) == 0)
        .Variant("4", x => (Links.Chain4(x) & 1) == 0)
        .Variant("16", x => (Links.Chain16(x) & 1) == 0)
        .Variant("64", x => (Links.Chain64(x) & 1) == 0)
        .Agree((_, _) => true);

    // The processor guesses which of the two it will be, and goes on.
    private static Study Decided => Numbers("int to bool by a branch")
        .Baseline("1", x => By(Links.Chain1(x)))
        .Variant("4", x => By(Links.Chain4(x)))
        .Variant("16", x => By(Links.Chain16(x)))
        .Variant("64", x => By(Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study DelegatedRecord => Numbers("through a delegate to record")
        .Baseline("1", Compiled(x => new Sounding(x, Links.Chain1(x))))
        .Variant("4", Compiled(x => new Sounding(x, Links.Chain4(x))))
        .Variant("16", Compiled(x => new Sounding(x, Links.Chain16(x))))
        .Variant("64", Compiled(x => new Sounding(x, Links.Chain64(x)))).Agree((_, _) => true);

    private static Study DelegatedTuple => Numbers("through a delegate to tuple")
        .Baseline("1", Compiled(x => ValueTuple.Create(x > 0, Links.Chain1(x))))
        .Variant("4", Compiled(x => ValueTuple.Create(x > 0, Links.Chain4(x))))
        .Variant("16", Compiled(x => ValueTuple.Create(x > 0, Links.Chain16(x))))
        .Variant("64", Compiled(x => ValueTuple.Create(x > 0, Links.Chain64(x)))).Agree((_, _) => true);

    private static Study Span => Numbers("int to span")
        .Baseline("1", Span<byte> (int x) => Bytes.AsSpan(Links.Chain1(x) & 31))
        .Variant("4", Span<byte> (int x) => Bytes.AsSpan(Links.Chain4(x) & 31))
        .Variant("16", Span<byte> (int x) => Bytes.AsSpan(Links.Chain16(x) & 31))
        .Variant("64", Span<byte> (int x) => Bytes.AsSpan(Links.Chain64(x) & 31)).Agree((_, _) => true);

    // Nothing comes back, so each call waits for the last through what that one stored.
    private static Study Void => Numbers("int to nothing")
        .Baseline("1", x => { s_state = Links.Chain1(s_state + x); }).Variant("4", x => { s_state = Links.Chain4(s_state + x); })
        .Variant("16", x => { s_state = Links.Chain16(s_state + x); }).Variant("64", x => { s_state = Links.Chain64(s_state + x); });

    private static Study Capturing
    {
        get
        {
            var added = 1;
            return Numbers("capturing lambda")
                .Baseline("1", x => Links.Chain1(x + added)).Variant("4", x => Links.Chain4(x + added))
                .Variant("16", x => Links.Chain16(x + added)).Variant("64", x => Links.Chain64(x + added))
                .Agree((_, _) => true);
        }
    }

    private static Study Dialled => Numbers("dial")
        .Baseline("1", x => Links.Chain1(x ^ 3)).Variant("4", Dial.Over("offset", 3), (x, offset) => Links.Chain4(x ^ offset))
        .Variant("16", Dial.Over("offset", 3), (x, offset) => Links.Chain16(x ^ offset))
        .Variant("64", Dial.Over("offset", 3), (x, offset) => Links.Chain64(x ^ offset)).Agree((_, _) => true);

    private static Study Prepared => Numbers("prepared")
        .Baseline("1", x => new StrongBox<int>(x), (box, x) => Links.Chain1(x ^ box.Value))
        .Variant("4", x => new StrongBox<int>(x), (box, x) => Links.Chain4(x ^ box.Value))
        .Variant("16", x => new StrongBox<int>(x), (box, x) => Links.Chain16(x ^ box.Value))
        .Variant("64", x => new StrongBox<int>(x), (box, x) => Links.Chain64(x ^ box.Value))
        .Agree((_, _) => true);

    private static Study Each => Numbers("an input for each call")
        .Baseline("1", Links.Chain1).Variant("4", Links.Chain4).Variant("16", Links.Chain16).Variant("64", Links.Chain64)
        .Agree((_, _) => true).ChangesInput();

    private static Study Mixed => Study.Of("mix of inputs").Input("one", 60, () => 12_345).Input("other", 40, () => 54_321)
        .Baseline("1", Links.Chain1).Variant("4", Links.Chain4).Variant("16", Links.Chain16).Variant("64", Links.Chain64)
        .Agree((_, _) => true);

    private static Study Enumerated => Numbers("enumerated")
        .Baseline("1", IEnumerable<int> (x) => One(Links.Chain1(x))).Variant("4", x => One(Links.Chain4(x)))
        .Variant("16", x => One(Links.Chain16(x))).Variant("64", x => One(Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study Delegated => Numbers("through a delegate")
        .Baseline("1", Compiled(x => Links.Chain1(x))).Variant("4", Compiled(x => Links.Chain4(x)))
        .Variant("16", Compiled(x => Links.Chain16(x))).Variant("64", Compiled(x => Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study AtOnce => Numbers("awaited, over at once")
        .Baseline("1", ValueTask<int> (x) => new(Links.Chain1(x))).Variant("4", ValueTask<int> (x) => new(Links.Chain4(x)))
        .Variant("16", ValueTask<int> (x) => new(Links.Chain16(x))).Variant("64", ValueTask<int> (x) => new(Links.Chain64(x)))
        .Agree((_, _) => true);

    private static Study Later => Numbers("awaited, over later")
        .Baseline("1", async x => await AfterYield(Links.Chain1, x)).Variant("64", async x => await AfterYield(Links.Chain64, x))
        .Variant("256", async x => await AfterYield(Links.Chain256, x)).Agree((_, _) => true);

    private static Study OneThread => Numbers("one thread of its own")
        .Baseline("1", Links.Chain1).Variant("4", Links.Chain4).Variant("16", Links.Chain16).Variant("64", Links.Chain64)
        .Agree((_, _) => true).Threads(1);

    private static Study TwoThreads => Numbers("two threads")
        .Baseline("1", Links.Chain1).Variant("4", Links.Chain4).Variant("16", Links.Chain16).Variant("64", Links.Chain64)
        .Agree((_, _) => true).Threads(2);

    private static StudyDraft<int> Numbers(string name) => Study.Of(name).Input("a number", () => 12_345);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static double Four(double x, int fours)
    {
        for (var i = 0; i < fours; i++)
        {
            x = x * 1.000_001 * 0.999_999 * 1.000_001 * 0.999_999;
        }

        return x;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static object Box(int x) => Boxes[x & s_zero];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static StrongBox<int> Number(int x) => Numbered[x & s_zero];

    private static IEnumerable<int> One(int x)
    {
        yield return x;
    }

    private static async Task<int> AfterYield(Func<int, int> chain, int x)
    {
        await Task.Yield();
        return chain(x);
    }

    private static bool By(int x)
    {
        if (x == 12_344)
        {
            s_state++;
            return true;
        }

        return false;
    }

    private static Func<int, TResult> Compiled<TResult>(Expression<Func<int, TResult>> chain) => chain.Compile();

    private sealed record Sounding(int Place, int Depth);

    private readonly record struct Pair(int First, long Second);

    [StructLayout(LayoutKind.Sequential, Size = 128)]
    private readonly struct Block(int first)
    {
        public readonly long First = first;
    }
}
