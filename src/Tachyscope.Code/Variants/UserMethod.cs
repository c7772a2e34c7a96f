namespace Tachyscope.Code.Variants;

/// <summary>A method of the user's that a variant comes to, as the C# compiler left it.</summary>
/// <param name="Name">Its name, as <c>Type:Method</c>.</param>
/// <param name="Il">Its instructions for the runtime, a line each.</param>
/// <param name="Lowered">What the compiler wrote out, as C# without the sugar; empty where it was not asked for.</param>
public sealed record UserMethod(string Name, IReadOnlyList<string> Il, IReadOnlyList<string> Lowered);
