using Tachyscope;

/// <summary>How far the nearest beacon is: the same few lines in eight languages, under two C compilers and three sets of flags.</summary>
internal static class NearestBeacon
{
    public static Study Study => Tachyscope.Study
        .Of("nearest beacon in eight languages")
        .Inputs("beacons", [16, 1_024], (count, seed) => new Chart(count, seed))
        .Baseline("C#", Nearest)
        .Guest("C# on .NET 8", Guest.OnTarget("C#", "net8.0"))
        .Guest("C", Guest.C("guests/nearest.c", "gcc -O2", "gcc -O3 -march=native", "gcc -O3 -ffast-math -march=native",
            "clang -O2", "clang -O3 -march=native", "clang -O3 -ffast-math -march=native"))
        .Guest("C++", Guest.Cpp("guests/nearest.cpp", "g++ -O2", "clang++ -O2"))
        .Guest("Rust", Guest.Rust("guests/nearest.rs"))
        .Guest("Go", Guest.Go("guests/nearest.go"))
        .Guest("Java", Guest.Java("guests/Nearest.java"))
        .Guest("JavaScript", Guest.JavaScript("guests/nearest.js"))
        .Guest("Python", Guest.Python("guests/nearest.py", "python3", "pypy3"))
        .Agree(tolerance: 1e-12);

    private static double Nearest(Chart chart)
    {
        var nearest = double.PositiveInfinity;
        for (var beacon = 0; beacon < chart.X.Length; beacon++)
        {
            var (east, north) = (chart.X[beacon] - chart.BoatX, chart.Y[beacon] - chart.BoatY);
            nearest = Math.Min(nearest, Math.Sqrt((east * east) + (north * north)));
        }

        return nearest;
    }
}
