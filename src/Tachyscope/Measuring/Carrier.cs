namespace Tachyscope.Measuring;

/// <summary>How a value of a type travels from one call to the next.</summary>
internal enum Carrier
{
    /// <summary>An integer of up to 32 bits, in a register.</summary>
    SmallInteger,

    /// <summary>An integer of 64 bits, in a register.</summary>
    LargeInteger,

    /// <summary>A number in a floating-point register.</summary>
    FloatingPoint,

    /// <summary>A reference, in a register.</summary>
    Reference,

    /// <summary>Any other structure, through memory.</summary>
    Memory,
}
