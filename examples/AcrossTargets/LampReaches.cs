using Tachyscope;

/// <summary>One call in three forms: of a class that is known, of an interface behind which one class is met, and one behind which there
/// are five.</summary>
internal static class LampReaches
{
    private interface ILamp
    {
        int Reach { get; }
    }

    public static Study Study => Tachyscope.Study.Of("add up reaches").Inputs("lamps", [1_000], Quay.Of)
        .Baseline("by class", quay => quay.SumOfLanterns())
        .Variant("by interface, one class", quay => quay.SumOfOneKind())
        .Variant("by interface, five classes", quay => quay.SumOfFiveKinds());

    private sealed record Lantern(int Reach) : ILamp;

    private sealed record Torch(int Reach) : ILamp;

    private sealed record Buoy(int Reach) : ILamp;

    private sealed record Flare(int Reach) : ILamp;

    private sealed record Beacon(int Reach) : ILamp;

    /// <summary>The same reaches three times over.</summary>
    private sealed class Quay(Lantern[] lanterns, ILamp[] ofOneKind, ILamp[] ofFiveKinds)
    {
        public static Quay Of(int count, int seed)
        {
            var random = new Random(seed);
            int[] reaches = [.. Enumerable.Range(0, count).Select(_ => random.Next(2, 30))];
            return new Quay(
                [.. reaches.Select(reach => new Lantern(reach))],
                [.. reaches.Select(reach => new Lantern(reach))],
                [.. reaches.Select(reach => Lamp(random.Next(5), reach))]);
        }

        // A loop for each: what the runtime learns of one is not mixed with what it learns of another.
        public int SumOfLanterns()
        {
            var sum = 0;
            foreach (var lantern in lanterns)
            {
                sum += lantern.Reach;
            }

            return sum;
        }

        public int SumOfOneKind()
        {
            var sum = 0;
            foreach (var lamp in ofOneKind)
            {
                sum += lamp.Reach;
            }

            return sum;
        }

        public int SumOfFiveKinds()
        {
            var sum = 0;
            foreach (var lamp in ofFiveKinds)
            {
                sum += lamp.Reach;
            }

            return sum;
        }

        private static ILamp Lamp(int kind, int reach) => kind switch
        {
            0 => new Lantern(reach),
            1 => new Torch(reach),
            2 => new Buoy(reach),
            3 => new Flare(reach),
            _ => new Beacon(reach),
        };
    }
}
