namespace Tachyscope.Mishaps;

/// <summary>A study that asks every question: sizes, two dials, preparing, stages, limits that are broken, a rate of calls.</summary>
internal static class Questions
{
    public static Study Study => Tachyscope.Study.Of("questions")
        .Inputs("levels", [64, 512, 4_096], count => Enumerable.Range(0, count).Select(level => level % 97).ToArray())
        .Baseline("copied", levels => Staged(levels, copies: 2))
        .Variant("copied once", levels => Staged(levels, copies: 1))
        .Variant("stepped", Dial.Over("step", 1, 2), Dial.Over("block", 32, 64), Stepped)
        .Variant("kept", prepare: levels => levels.Sum(), use: (sum, levels) => sum)
        .Limit(bytes: 0, of: "copied")
        .Limit(nanoseconds: 1e9, processorNanoseconds: 1e9)
        .Called(100, per: TimeSpan.FromSeconds(1), by: 8);

    private static int Staged(int[] levels, int copies)
    {
        using (Stage.Open("copy"))
        {
            for (var copy = 0; copy < copies; copy++)
            {
                levels = [.. levels];
            }
        }

        using (Stage.Open("sum"))
        {
            return levels.Sum();
        }
    }

    private static int Stepped(int[] levels, int step, int block)
    {
        var sum = 0;
        for (var from = 0; from < levels.Length; from += block)
        {
            for (var first = 0; first < step; first++)
            {
                for (var level = from + first; level < from + block; level += step)
                {
                    sum += levels[level];
                }
            }
        }

        return sum;
    }
}
