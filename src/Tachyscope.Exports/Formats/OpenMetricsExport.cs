using System.Globalization;
using System.Text;

namespace Tachyscope.Exports.Formats;

/// <summary>Writes results as OpenMetrics text (version 1.0), in base units.</summary>
internal static class OpenMetricsExport
{
    private const double NanosecondsPerSecond = 1e9;

    public static void Write(Export export, Stream stream)
    {
        using var writer = new StreamWriter(stream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false),
            leaveOpen: true) { NewLine = "\n" };
        ResultRow[] rows = [.. ResultRow.Of(export).Where(row => row.Cell.Failure is null)];
        (string Name, string Unit, string Help, Func<ResultRow, double> Of)[] families =
        [
            ("tachyscope_call_seconds", "seconds", "Time of a typical call.",
                row => row.Cell.NanosecondsPerCall.Estimate / NanosecondsPerSecond),
            ("tachyscope_call_lower_seconds", "seconds", "Lower end of the interval of that time.",
                row => row.Cell.NanosecondsPerCall.Lower / NanosecondsPerSecond),
            ("tachyscope_call_upper_seconds", "seconds", "Upper end of the interval of that time.",
                row => row.Cell.NanosecondsPerCall.Upper / NanosecondsPerSecond),
            ("tachyscope_call_allocated_bytes", "bytes", "Bytes allocated by a call.", row => row.Cell.AllocatedBytesPerCall),
            ("tachyscope_time_ratio", "", "Time as a multiple of that of what it is compared with.",
                row => row.Cell.Contrast?.TimeRatio.Estimate ?? double.NaN),
            ("tachyscope_time_ratio_lower", "", "Lower end of the interval of that ratio.",
                row => row.Cell.Contrast?.TimeRatio.Lower ?? double.NaN),
            ("tachyscope_time_ratio_upper", "", "Upper end of the interval of that ratio.",
                row => row.Cell.Contrast?.TimeRatio.Upper ?? double.NaN),
        ];
        foreach (var (name, unit, help, of) in families)
        {
            writer.WriteLine($"# TYPE {name} gauge");
            if (unit.Length > 0)
            {
                writer.WriteLine($"# UNIT {name} {unit}");
            }

            writer.WriteLine($"# HELP {name} {help}");
            foreach (var row in rows.Where(row => double.IsFinite(of(row))))
            {
                writer.WriteLine($"{name}{{{Labels(row)}}} {of(row).ToString("R", CultureInfo.InvariantCulture)}");
            }
        }

        writer.Write("# EOF");
    }

    private static string Labels(ResultRow row)
    {
        (string Name, string Value)[] labels =
        [
            ("study", row.Study.Study.Name), ("input", row.Input.Input.Label), ("variant", row.Cell.Variant.Name),
            .. row.Target.Length > 0 ? [("target", row.Target)] : ((string, string)[])[],
        ];
        return string.Join(',', labels.Select(label => $"{label.Name}=\"{Escaped(label.Value)}\""));
    }

    private static string Escaped(string value)
        => value.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)
            .Replace("\n", "\\n", StringComparison.Ordinal);
}
