namespace Tachyscope.Bench.Studies;

/// <summary>Variants that are equal, and some that take one, two and five per cent longer.</summary>
internal static class Twins
{
    public static (string Name, Func<int, int> Operation)[] Variants { get; } =
        [("hundred links", Links.Hundred), ("equal", Links.HundredAgain), ("1 % longer", Links.HundredAndOne),
            ("2 % longer", Links.HundredAndTwo), ("5 % longer", Links.HundredAndFive)];

    public static Study Study => Variants.Skip(1).Aggregate(
            Tachyscope.Study.Of("twins").Input("a number", () => 12_345).Baseline(Variants[0].Name, Variants[0].Operation),
            (draft, variant) => draft.Variant(variant.Name, variant.Operation))
        .Agree((_, _) => true);

    /// <summary>Two that are the same but for where their dictionary happens to lie: each builds its own.</summary>
    public static Study LookUps => Tachyscope.Study
        .Of("look-ups")
        .Input("four thousand names", () => Enumerable.Range(0, 4_096).Select(number => $"lamp {number * 7919 % 4_096}").ToArray())
        .Baseline("one", Build, LookUp)
        .Variant("another", Build, LookUp);

    private static Dictionary<string, int> Build(string[] names)
    {
        var numbers = new Dictionary<string, int>();
        for (var i = 0; i < names.Length; i++)
        {
            // Names of its own, so that they lie where its own heap happened to put them.
            numbers[new string(names[i].AsSpan())] = i;
        }

        return numbers;
    }

    private static int LookUp(Dictionary<string, int> numbers, string[] names)
    {
        var sum = 0;
        for (var i = 0; i < names.Length; i += 16)
        {
            sum += numbers[names[i]];
        }

        return sum;
    }
}
