using System.Globalization;
using System.Text;
using Tachyscope;

/// <summary>Readings of a tide gauge written down, in centimetres with a decimal: what each language makes of numbers and texts.</summary>
internal static class GaugeReadings
{
    public static Study Study => Tachyscope.Study
        .Of("write gauge readings in eight languages")
        .Inputs("readings", [64], (count, seed) => Levels(count, seed))
        .Baseline("C#", Written)
        .Guest("C# on .NET 8", Guest.OnTarget("C#", "net8.0"))
        .Guest("C", Guest.C("guests/readings.c", "gcc -O2", "clang -O2"))
        .Guest("C++", Guest.Cpp("guests/readings.cpp", "g++ -O2", "clang++ -O2"))
        .Guest("Rust", Guest.Rust("guests/readings.rs"))
        .Guest("Go", Guest.Go("guests/readings.go"))
        .Guest("Java", Guest.Java("guests/Readings.java"))
        .Guest("JavaScript", Guest.JavaScript("guests/readings.js"))
        .Guest("Python", Guest.Python("guests/readings.py", "python3", "pypy3"));

    // Tenths of a centimetre.
    private static int[] Levels(int count, int seed)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, count).Select(_ => random.Next(-2_000, 6_000))];
    }

    private static string Written(int[] levels)
    {
        var text = new StringBuilder();
        foreach (var level in levels)
        {
            var magnitude = Math.Abs(level);
            text.Append(level < 0 ? "-" : "").Append(CultureInfo.InvariantCulture, $"{magnitude / 10}.{magnitude % 10}").Append(';');
        }

        return text.ToString();
    }
}
