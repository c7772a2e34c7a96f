using Tachyscope;

/// <summary>Small pieces of syntax that compilers of different versions write out differently.</summary>
internal static class LampLabels
{
    public static Study Study => Tachyscope.Study
        .Of("label lamps")
        .Input("a lamp", () => new Lamp("north pier", 'N', [3, 1, 4, 1, 5]))
        .Baseline("interpolated", lamp => $"{lamp.Name}-{lamp.Letter}")
        .Variant("put together", lamp => lamp.Name + "-" + lamp.Letter)
        .Variant("spread and joined", lamp => Joined([.. lamp.Marks, 9], lamp));

    private static string Joined(int[] marks, Lamp lamp) => marks.Length > 5 ? lamp.Name + '-' + lamp.Letter : "";

    private sealed record Lamp(string Name, char Letter, List<int> Marks);
}
