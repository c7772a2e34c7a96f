using System.Text.Json;
using Tachyscope.Runs;

namespace Tachyscope.Exports.Formats;

/// <summary>Writes what a check would object to as SARIF 2.1.0 (OASIS), each at the line the variant is written in, and at its
/// name.</summary>
internal static class SarifExport
{
    private static readonly (string Id, string Text, string Level)[] Rules =
    [
        ("failed", "A variant answers otherwise than the baseline, throws, hangs or dies.", "error"),
        ("limit-broken", "A variant goes beyond a declared limit.", "error"),
        ("limit-unsure", "A variant is not shown to keep a declared limit.", "warning"),
        ("slower", "A variant is slower than it was, by more than the gate allows.", "error"),
        ("allocates-more", "A variant allocates more than it did.", "error"),
        ("other-work", "A variant does other work than in the run it is held against.", "error"),
        ("not-told", "A variant is not shown to be as fast as it was, and the gate asks for that.", "error"),
    ];

    public static void Write(Export export, Stream stream)
    {
        using var json = new Utf8JsonWriter(stream, new JsonWriterOptions { Indented = true });
        json.WriteStartObject();
        json.WriteString("$schema", "https://json.schemastore.org/sarif-2.1.0.json");
        json.WriteString("version", "2.1.0");
        json.WriteStartArray("runs");
        json.WriteStartObject();
        WriteTool(json, export);
        json.WriteStartArray("results");
        foreach (var row in ResultRow.Of(export))
        {
            foreach (var objection in Objection.Of(export, row))
            {
                WriteResult(json, row, objection);
            }
        }

        json.WriteEndArray();
        json.WriteString("columnKind", "utf16CodeUnits");
        json.WriteEndObject();
        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void WriteTool(Utf8JsonWriter json, Export export)
    {
        json.WriteStartObject("tool");
        json.WriteStartObject("driver");
        json.WriteString("name", "Tachyscope");
        json.WriteString("version", export.Run.Tool);
        json.WriteStartArray("rules");
        foreach (var (id, text, level) in Rules)
        {
            json.WriteStartObject();
            json.WriteString("id", id);
            json.WriteStartObject("shortDescription");
            json.WriteString("text", text);
            json.WriteEndObject();
            json.WriteStartObject("defaultConfiguration");
            json.WriteString("level", level);
            json.WriteEndObject();
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
        json.WriteEndObject();
    }

    private static void WriteResult(Utf8JsonWriter json, ResultRow row, Objection objection)
    {
        var index = Array.FindIndex(Rules, rule => rule.Id == objection.Rule);
        json.WriteStartObject();
        json.WriteString("ruleId", objection.Rule);
        json.WriteNumber("ruleIndex", index);
        json.WriteString("level", Rules[index].Level);
        json.WriteStartObject("message");
        json.WriteString("text",
            $"{row.Cell.Variant.Name} on {row.Input.Input.Label}{(row.Target.Length == 0 ? "" : $", {row.Target}")}: {objection.Message}");
        json.WriteEndObject();
        json.WriteStartArray("locations");
        json.WriteStartObject();
        WritePhysical(json, row.Cell.Variant.Source);
        json.WriteStartArray("logicalLocations");
        json.WriteStartObject();
        json.WriteString("name", row.Cell.Variant.Name);
        json.WriteString("fullyQualifiedName", $"{row.Study.Study.Name} · {row.Cell.Variant.Name}");
        json.WriteString("kind", "function");
        json.WriteEndObject();
        json.WriteEndArray();
        json.WriteEndObject();
        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void WritePhysical(Utf8JsonWriter json, SourcePlace? source)
    {
        if (source is null)
        {
            return;
        }

        json.WriteStartObject("physicalLocation");
        json.WriteStartObject("artifactLocation");
        json.WriteString("uri", string.Join('/', source.File.Split('/').Select(Uri.EscapeDataString)));
        json.WriteString("uriBaseId", "%SRCROOT%");
        json.WriteEndObject();
        json.WriteStartObject("region");
        json.WriteNumber("startLine", source.Line);
        json.WriteEndObject();
        json.WriteEndObject();
    }
}
