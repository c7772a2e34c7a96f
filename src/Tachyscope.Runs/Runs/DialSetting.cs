namespace Tachyscope.Runs;

/// <summary>A dial at one of its settings.</summary>
/// <param name="Dial">Name of the dial.</param>
/// <param name="Value">The setting, 1 or more.</param>
sealed partial record DialSetting(string Dial, int Value);
