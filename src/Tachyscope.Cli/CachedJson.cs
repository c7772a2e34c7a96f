using System.Text.Json.Serialization;
using Tachyscope.Snippets;

namespace Tachyscope.Cli;

/// <summary>Reads and writes what is kept of snippets and of studies' names: without reflection, which is slow to start.</summary>
[JsonSerializable(typeof(SnippetWish))]
[JsonSerializable(typeof(SnippetProblem[]))]
[JsonSerializable(typeof(string[]))]
internal sealed partial class CachedJson : JsonSerializerContext;
