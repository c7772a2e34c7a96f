/// <summary>The beacons around Sable Point, and where a vessel is among them.</summary>
internal sealed class Chart
{
    private readonly double[] _latitudes;
    private readonly double[] _longitudes;
    private readonly int[] _byLatitude;
    private readonly double[] _sortedLatitudes;

    private Chart(double[] latitudes, double[] longitudes, double hereLatitude, double hereLongitude)
    {
        _latitudes = latitudes;
        _longitudes = longitudes;
        HereLatitude = hereLatitude;
        HereLongitude = hereLongitude;
        _byLatitude = [.. Enumerable.Range(0, latitudes.Length).OrderBy(beacon => latitudes[beacon])];
        _sortedLatitudes = [.. _byLatitude.Select(beacon => latitudes[beacon])];
    }

    public double HereLatitude { get; }

    public double HereLongitude { get; }

    /// <summary>A chart of beacons scattered over one square degree.</summary>
    public static Chart Scatter(int count, int seed)
    {
        var random = new Random(seed);
        var latitudes = Enumerable.Range(0, count).Select(_ => random.NextDouble()).ToArray();
        var longitudes = Enumerable.Range(0, count).Select(_ => random.NextDouble()).ToArray();
        return new Chart(latitudes, longitudes, 0.25 + (random.NextDouble() / 2), 0.25 + (random.NextDouble() / 2));
    }

    /// <summary>Looks at every beacon.</summary>
    public int NearestByScan()
    {
        var nearest = -1;
        var best = double.PositiveInfinity;
        for (var beacon = 0; beacon < _latitudes.Length; beacon++)
        {
            var distance = SquaredDistance(beacon);
            if (distance < best)
            {
                best = distance;
                nearest = beacon;
            }
        }

        return nearest;
    }

    /// <summary>Orders all beacons by their distance and takes the first.</summary>
    public int NearestByOrder()
        => Enumerable.Range(0, _latitudes.Length).OrderBy(SquaredDistance).First();

    /// <summary>Goes north and south from here until latitude alone is too far.</summary>
    public int NearestBySweep()
    {
        var start = Array.BinarySearch(_sortedLatitudes, HereLatitude);
        var north = start < 0 ? ~start : start;
        var south = north - 1;
        var nearest = -1;
        var best = double.PositiveInfinity;
        while (north < _byLatitude.Length || south >= 0)
        {
            var northGap = north < _byLatitude.Length ? _sortedLatitudes[north] - HereLatitude : double.PositiveInfinity;
            var southGap = south >= 0 ? HereLatitude - _sortedLatitudes[south] : double.PositiveInfinity;
            var gap = Math.Min(northGap, southGap);
            if (gap * gap >= best)
            {
                break;
            }

            var beacon = _byLatitude[northGap <= southGap ? north++ : south--];
            var distance = SquaredDistance(beacon);
            if (distance < best || (distance == best && beacon < nearest))
            {
                best = distance;
                nearest = beacon;
            }
        }

        return nearest;
    }

    /// <summary>The beacons sorted into squares, so that only those around a place are looked at.</summary>
    public BeaconGrid Grid() => new(_latitudes, _longitudes);

    private double SquaredDistance(int beacon)
    {
        var north = _latitudes[beacon] - HereLatitude;
        var east = _longitudes[beacon] - HereLongitude;
        return (north * north) + (east * east);
    }
}
