using System.Text.Json.Serialization;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Storing;

/// <summary>Reads and writes what lies in the cache and every run goes by: without reflection, which is slow to start.</summary>
[JsonSerializable(typeof(BuildStamp))]
[JsonSerializable(typeof(Target))]
[JsonSerializable(typeof(Dictionary<string, int>))]
internal sealed partial class KeptJson : JsonSerializerContext;
