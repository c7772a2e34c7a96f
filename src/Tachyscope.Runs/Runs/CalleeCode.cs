namespace Tachyscope.Runs;

/// <summary>The machine code of a method that an operation calls, as the runtime announced it.</summary>
/// <param name="Name">Its name, as <c>Type:Method</c>.</param>
/// <param name="Bytes">Length of its code, in bytes.</param>
/// <param name="Offset">Where that begins within its page of 4,096 bytes.</param>
sealed partial record CalleeCode(string Name, int Bytes, int Offset);
