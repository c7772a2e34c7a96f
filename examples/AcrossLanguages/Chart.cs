/// <summary>Beacons on the chart of Sable Point, and where a boat lies among them.</summary>
internal sealed class Chart
{
    public Chart(int beacons, int seed)
    {
        var random = new Random(seed);
        X = [.. Enumerable.Range(0, beacons).Select(_ => random.NextDouble())];
        Y = [.. Enumerable.Range(0, beacons).Select(_ => random.NextDouble())];
        (BoatX, BoatY) = (random.NextDouble(), random.NextDouble());
    }

    public double[] X { get; }

    public double[] Y { get; }

    public double BoatX { get; }

    public double BoatY { get; }
}
