using System.IO.Hashing;
using System.Text;
using Tachyscope;

/// <summary>Check sums of the station's log, by a package whose versions differ.</summary>
internal static class LogChecks
{
    private static readonly uint[] Table = [.. Enumerable.Range(0, 256).Select(Entry)];

    public static Study Study => Tachyscope.Study
        .Of("check a log")
        .Inputs("bytes", [4_096], count
            => Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("0412 Petrel inbound, berth 7; ", (count / 30) + 1)))[..count])
        .Baseline("table", ByTable)
        .Variant("package", log => BitConverter.ToUInt32(Crc32.Hash(log)));

    private static uint ByTable(byte[] log)
    {
        var sum = uint.MaxValue;
        foreach (var letter in log)
        {
            sum = Table[(byte)(sum ^ letter)] ^ (sum >> 8);
        }

        return ~sum;
    }

    private static uint Entry(int number)
    {
        var entry = (uint)number;
        for (var bit = 0; bit < 8; bit++)
        {
            entry = (entry & 1) == 0 ? entry >> 1 : (entry >> 1) ^ 0xEDB88320;
        }

        return entry;
    }
}
