using System.Globalization;

namespace Tachyscope.Lab.Machines;

/// <summary>Where the time of all processors went since the system started, in ticks.</summary>
internal readonly record struct ProcessorTimes(long All, long Idle, long Steal)
{
    private const int IdleField = 3;
    private const int WaitField = 4;
    private const int StealField = 7;
    // What follows (guest time) is counted in the first fields already.
    private const int FieldsInAll = 8;

    public static ProcessorTimes? Now() => SystemFile.TryRead("/proc/stat") is { } text ? Parse(text) : null;

    public static ProcessorTimes? Parse(string stat)
    {
        var fields = stat.Split('\n')[0].Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (fields.Length <= FieldsInAll || fields[0] != "cpu")
        {
            return null;
        }

        var ticks = fields.Skip(1).Take(FieldsInAll).Select(field => long.Parse(field, CultureInfo.InvariantCulture)).ToArray();
        return new(ticks.Sum(), ticks[IdleField] + ticks[WaitField], ticks[StealField]);
    }

    public (double Busy, double Steal)? ShareSince(ProcessorTimes before)
    {
        var all = All - before.All;
        return all <= 0 ? null : (1 - ((double)(Idle - before.Idle) / all), (double)(Steal - before.Steal) / all);
    }
}
