using System.Globalization;
using System.Text;
using System.Xml;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Exports.Formats;

/// <summary>Writes every cell as a test case of JUnit's XML: failed where the variant failed or a limit is not kept.</summary>
internal static class JUnitExport
{
    private const double NanosecondsPerSecond = 1e9;

    public static void Write(Export export, Stream stream)
    {
        using var writer = XmlWriter.Create(stream,
            new XmlWriterSettings { Indent = true, Encoding = new UTF8Encoding(encoderShouldEmitUTF8Identifier: false) });
        ResultRow[] all = [.. ResultRow.Of(export)];
        writer.WriteStartElement("testsuites");
        Counts(writer, export, all);
        foreach (var suite in all.GroupBy(row => (row.Study.Study.Name, row.Target)))
        {
            writer.WriteStartElement("testsuite");
            writer.WriteAttributeString("name",
                Clean(suite.Key.Target.Length == 0 ? suite.Key.Name : $"{suite.Key.Name} on {suite.Key.Target}"));
            Counts(writer, export, [.. suite]);
            writer.WriteAttributeString("timestamp", export.Run.Started.ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture));
            foreach (var row in suite)
            {
                Case(writer, export, row);
            }

            writer.WriteEndElement();
        }

        writer.WriteEndElement();
    }

    private static void Case(XmlWriter writer, Export export, ResultRow row)
    {
        writer.WriteStartElement("testcase");
        writer.WriteAttributeString("classname", Clean(row.Study.Study.Name));
        writer.WriteAttributeString("name", Clean($"{row.Cell.Variant.Name}, {row.Input.Input.Label}"));
        writer.WriteAttributeString("time", Seconds(row));
        if (row.Cell.Failure?.Kind == CellFailureKind.Missing)
        {
            writer.WriteStartElement("skipped");
            writer.WriteAttributeString("message", Clean(row.Cell.Failure.Reason));
            writer.WriteEndElement();
        }

        foreach (var objection in Objection.Of(export, row).Take(1))
        {
            writer.WriteStartElement("failure");
            writer.WriteAttributeString("type", objection.Rule);
            writer.WriteAttributeString("message", Clean(objection.Message));
            writer.WriteString(Clean(string.Join('\n', Objection.Of(export, row).Select(each => each.Message))));
            writer.WriteEndElement();
        }

        if (row.Cell.Failure is null)
        {
            writer.WriteElementString("system-out",
                Clean($"{SpeedText.Time(row.Cell)} a call, {Quantity.Bytes(row.Cell.AllocatedBytesPerCall)}"
                + (row.Cell.Contrast is { } contrast ? $", {SpeedText.Factor(contrast)}, {row.Verdict}" : "")));
        }

        writer.WriteEndElement();
    }

    private static void Counts(XmlWriter writer, Export export, ResultRow[] rows)
    {
        writer.WriteAttributeString("tests", Whole(rows.Length));
        writer.WriteAttributeString("failures", Whole(rows.Count(row => Objection.Of(export, row).Any())));
        writer.WriteAttributeString("errors", "0");
        writer.WriteAttributeString("skipped", Whole(rows.Count(row => row.Cell.Failure?.Kind == CellFailureKind.Missing)));
        writer.WriteAttributeString("time", "0");
    }

    private static string Seconds(ResultRow row)
        => row.Cell.Failure is null && double.IsFinite(row.Cell.NanosecondsPerCall.Estimate)
            ? (row.Cell.NanosecondsPerCall.Estimate / NanosecondsPerSecond).ToString("0.############", CultureInfo.InvariantCulture)
            : "0";

    private static string Whole(int count) => count.ToString(CultureInfo.InvariantCulture);

    // What XML cannot hold at all.
    private static string Clean(string text)
        => string.Concat(text.EnumerateRunes()
            .Select(rune => rune.IsBmp && !XmlConvert.IsXmlChar((char)rune.Value) ? "�" : rune.ToString()));
}
