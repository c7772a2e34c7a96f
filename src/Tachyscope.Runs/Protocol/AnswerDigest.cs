namespace Tachyscope.Protocol;

/// <summary>An answer as another process can compare it.</summary>
/// <param name="Text">The answer in a few words, for messages.</param>
/// <param name="Hash">SHA-256 of all it holds, in hexadecimal; null when it holds what says nothing outside its process.</param>
/// <param name="Numbers">Its numbers in order, where the study allows them a tolerance; null where it does not, or they are too many.</param>
sealed partial record AnswerDigest(string Text, string? Hash, IReadOnlyList<double>? Numbers = null);
