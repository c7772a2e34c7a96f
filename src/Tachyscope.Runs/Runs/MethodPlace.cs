namespace Tachyscope.Runs;

/// <summary>A method in a file of compiled code.</summary>
sealed partial record MethodPlace
{
    /// <summary>Path of the assembly that holds it.</summary>
    public required string Assembly { get; init; }

    /// <summary>Its metadata token there (ECMA-335, II.22).</summary>
    public required int Token { get; init; }
}
