using System.Runtime.CompilerServices;

namespace Tachyscope.Bench.Studies;

/// <summary>
/// Chains of known cost: every link is a multiplication and an addition that wait for the link before, four clock cycles.
/// </summary>
internal static class Links
{
    public static int Chain1(int x) => Link(x);

    public static int Chain2(int x) => Link(Link(x));

    public static int Chain4(int x) => Chain2(Chain2(x));

    public static int Chain8(int x) => Four(Four(x));

    public static int Chain16(int x) => Sixteen(x);

    public static int Chain32(int x) => Sixteen(Sixteen(x));

    public static int Chain64(int x) => Loop(x, 4);

    public static int Chain128(int x) => Loop(x, 8);

    public static int Chain256(int x) => Loop(x, 16);

    /// <summary>A hundred links.</summary>
    public static int Hundred(int x) => Four(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(x)))))));

    /// <summary>A hundred links, written once more.</summary>
    public static int HundredAgain(int x) => Four(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(x)))))));

    /// <summary>A hundred links and one.</summary>
    public static int HundredAndOne(int x) => Link(Four(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(x))))))));

    /// <summary>A hundred links and two.</summary>
    public static int HundredAndTwo(int x) => Link(Link(Four(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(x)))))))));

    /// <summary>A hundred links and five.</summary>
    public static int HundredAndFive(int x) => Link(Four(Four(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(Sixteen(x)))))))));

    /// <summary>As many times sixteen links as asked.</summary>
    public static int Sixteens(int x, int count) => Loop(x, count);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Link(int x) => unchecked((x * (int)0x9E37_79B1) + 0x7F4A_7C15);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Four(int x) => Link(Link(Link(Link(x))));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Sixteen(int x) => Four(Four(Four(Four(x))));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Loop(int x, int sixteens)
    {
        for (var i = 0; i < sixteens; i++)
        {
            x = Sixteen(x);
        }

        return x;
    }
}
