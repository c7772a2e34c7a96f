using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>An answer as another process can compare it.</summary>
/// <param name="Text">The answer in a few words, for messages.</param>
/// <param name="Hash">SHA-256 of all it holds, in hexadecimal; null when it holds what says nothing outside its process.</param>
/// <param name="Numbers">Its numbers in order, where the study allows them a tolerance; null where it does not, or they are too many. What
/// is no number is written as <c>"NaN"</c>, what is infinite as <c>"Infinity"</c>.</param>
sealed partial record AnswerDigest(
    string Text,
    string? Hash,
    [property: JsonNumberHandling(JsonNumberHandling.AllowNamedFloatingPointLiterals)] IReadOnlyList<double>? Numbers = null);
