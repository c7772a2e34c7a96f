/** Chains of multiplications, three clock cycles each: a guest of known cost. */
public final class Chain {
    static volatile long factor = 0x1E3779B97F4A7C15L;
    static volatile long nothing;

    long start;

    static long chain(Chain from, int links) {
        long value = from.start;
        long base = factor;
        long unknown = nothing;
        for (int left = links; left > 0; left -= 8) {
            // The same in every turn, but not to the compiler, which would fold multiplications by what does not change into one.
            long by = base + (left & unknown);
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
            value *= by;
        }
        return value;
    }

    static long chain64(Chain from) {
        return chain(from, 64);
    }

    static long chain256(Chain from) {
        return chain(from, 256);
    }

    public static void main(String[] arguments) throws Exception {
        Tachyscope.serve(Chain.class, Tachyscope.whole("chain64", Chain::chain64), Tachyscope.whole("chain256", Chain::chain256));
    }
}
