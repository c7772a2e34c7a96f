using System.Text.Json.Nodes;

namespace Tachyscope.Lab.Tests;

/// <summary>Holds a document to a JSON Schema, for the keywords that our schema uses; any other keyword is an error.</summary>
internal sealed class SchemaCheck(JsonObject root)
{
    private static readonly string[] Silent = ["$schema", "title", "description", "$defs", "format"];

    public static SchemaCheck FromFile(string path) => new((JsonObject)JsonNode.Parse(File.ReadAllText(path))!);

    /// <summary>What is wrong with a document, by its place.</summary>
    public List<string> Errors(JsonNode? document) => [.. Errors(JsonNode.Parse(document?.ToJsonString() ?? "null"), root, "$")];

    private IEnumerable<string> Errors(JsonNode? node, JsonObject schema, string at)
        => schema.Where(keyword => !Silent.Contains(keyword.Key))
            .SelectMany(keyword => Errors(node, schema, keyword.Key, keyword.Value!, at));

    private IEnumerable<string> Errors(JsonNode? node, JsonObject schema, string keyword, JsonNode value, string at) => keyword switch
    {
        "$ref" => Errors(node, Target((string)value!), at),
        "type" => Check(Types(value).Any(type => IsOf(node, type)), at, $"is not {value.ToJsonString()}"),
        "const" => Check(JsonNode.DeepEquals(node, value), at, $"is not {value.ToJsonString()}"),
        "enum" => Check(((JsonArray)value).Any(allowed => JsonNode.DeepEquals(allowed, node)), at, $"is none of {value.ToJsonString()}"),
        "minimum" => Check(node is null || node is not JsonValue || (double)node >= (double)value!, at, $"is below {value}"),
        "exclusiveMinimum" => Check((double)node! > (double)value!, at, $"is not above {value}"),
        "minItems" => Check(((JsonArray)node!).Count >= (int)value!, at, $"has fewer than {value} items"),
        "required" => Names(value).SelectMany(name => Check(node is JsonObject o && o.ContainsKey(name), at, $"lacks {name}")),
        "oneOf" => Check(((JsonArray)value).Count(one => !Errors(node, (JsonObject)one!, at).Any()) == 1, at,
            "fits none or several of oneOf"),
        "dependentRequired" => ((JsonObject)value).Where(name => node is JsonObject o && o.ContainsKey(name.Key))
            .SelectMany(name => Names(name.Value!).SelectMany(other
                => Check(((JsonObject)node!).ContainsKey(other), at, $"lacks {other}"))),
        "properties" => ((JsonObject)value)
            .SelectMany(property => node is JsonObject o && o.TryGetPropertyValue(property.Key, out var child)
            ? Errors(child, (JsonObject)property.Value!, $"{at}.{property.Key}") : []),
        "additionalProperties" => node is JsonObject o
            ? o.SelectMany(property => Check(((JsonObject)schema["properties"]!).ContainsKey(property.Key), at, $"has {property.Key}"))
            : [],
        "prefixItems" => node is JsonArray items
            ? ((JsonArray)value).SelectMany((item, i) => i < items.Count ? Errors(items[i], (JsonObject)item!, $"{at}[{i}]") : []) : [],
        "items" when value is JsonObject each => node is JsonArray all ? all.SelectMany((item, i) => Errors(item, each, $"{at}[{i}]")) : [],
        "items" => Check(((JsonArray)node!).Count <= ((JsonArray)schema["prefixItems"]!).Count, at, "has too many items"),
        _ => throw new NotSupportedException($"The schema uses the keyword {keyword}, which this check does not know."),
    };

    private JsonObject Target(string reference) => (JsonObject)root["$defs"]![reference["#/$defs/".Length..]]!;

    private static IEnumerable<string> Types(JsonNode value) => value is JsonArray array ? Names(array) : [(string)value!];

    private static IEnumerable<string> Names(JsonNode value) => ((JsonArray)value).Select(name => (string)name!);

    private static IEnumerable<string> Check(bool holds, string at, string problem) => holds ? [] : [$"{at} {problem}"];

    private static bool IsOf(JsonNode? node, string type) => type switch
    {
        "null" => node is null,
        "object" => node is JsonObject,
        "array" => node is JsonArray,
        "string" => node?.GetValueKind() == System.Text.Json.JsonValueKind.String,
        "boolean" => node?.GetValueKind() is System.Text.Json.JsonValueKind.True or System.Text.Json.JsonValueKind.False,
        "integer" => node?.GetValueKind() == System.Text.Json.JsonValueKind.Number && Math.Floor((double)node) == (double)node,
        _ => node?.GetValueKind() == System.Text.Json.JsonValueKind.Number,
    };
}
