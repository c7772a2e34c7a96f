/// <summary>Beacons sorted into squares, about two to a square.</summary>
internal sealed class BeaconGrid
{
    private readonly double[] _latitudes;
    private readonly double[] _longitudes;
    private readonly int _side;
    private readonly int[][] _squares;

    public BeaconGrid(double[] latitudes, double[] longitudes)
    {
        _latitudes = latitudes;
        _longitudes = longitudes;
        _side = Math.Max(1, (int)Math.Sqrt(latitudes.Length / 2.0));
        var squares = Enumerable.Range(0, latitudes.Length)
            .ToLookup(beacon => (Square(latitudes[beacon]) * _side) + Square(longitudes[beacon]));
        _squares = [.. Enumerable.Range(0, _side * _side).Select(square => squares[square].ToArray())];
    }

    /// <summary>Searches ring after ring of squares until no nearer beacon can lie further out.</summary>
    public int Nearest(double latitude, double longitude)
    {
        var (row, column) = (Square(latitude), Square(longitude));
        var nearest = -1;
        var best = double.PositiveInfinity;
        for (var ring = 0; ring < _side; ring++)
        {
            var reach = (ring - 1) / (double)_side;
            if (reach > 0 && reach * reach > best)
            {
                break;
            }

            for (var y = Math.Max(0, row - ring); y <= Math.Min(_side - 1, row + ring); y++)
            {
                var isEdge = Math.Abs(y - row) == ring;
                var step = isEdge || ring == 0 ? 1 : 2 * ring;
                for (var x = column - ring; x <= column + ring; x += step)
                {
                    if (x >= 0 && x < _side)
                    {
                        Search(_squares[(y * _side) + x], latitude, longitude, ref nearest, ref best);
                    }
                }
            }
        }

        return nearest;
    }

    private void Search(int[] square, double latitude, double longitude, ref int nearest, ref double best)
    {
        foreach (var beacon in square)
        {
            var north = _latitudes[beacon] - latitude;
            var east = _longitudes[beacon] - longitude;
            var distance = (north * north) + (east * east);
            if (distance < best || (distance == best && beacon < nearest))
            {
                best = distance;
                nearest = beacon;
            }
        }
    }

    private int Square(double degrees) => Math.Clamp((int)(degrees * _side), 0, _side - 1);
}
