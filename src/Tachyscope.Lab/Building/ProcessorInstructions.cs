using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.Arm;
using System.Runtime.Intrinsics.X86;

namespace Tachyscope.Lab.Building;

/// <summary>What the just-in-time compiler uses of a processor, in the words of the ahead-of-time compiler.</summary>
/// <param name="InstructionSet">The instruction set; null where the compiler's own is all that can be named.</param>
internal sealed record ProcessorInstructions(string? InstructionSet)
{
    /// <summary>Of this process, which is compiled just in time.</summary>
    public static ProcessorInstructions Own { get; } = X86Base.IsSupported
        ? OfX86(Avx2.IsSupported, Vector512.IsHardwareAccelerated)
        : OfArm(ArmBase.IsSupported, Rdm.IsSupported, Dp.IsSupported, System.Runtime.Intrinsics.Arm.Aes.IsSupported, Sha256.IsSupported);

    /// <summary>Of an x64 processor.</summary>
    /// <param name="hasAvx2">Whether it has vectors of 256 bits.</param>
    /// <param name="usesAvx512">Whether vectors of 512 bits are used, and not only there.</param>
    /// <remarks>
    /// On processors whose cores slow down under vectors of 512 bits the just-in-time compiler keeps to 256. The ahead-of-time
    /// compiler cannot be told a width (its option to prefer one changes nothing in what Vector512 says, tried on 10.0.12), so
    /// that it gets the set without them; what differs then is told.
    /// </remarks>
    public static ProcessorInstructions OfX86(bool hasAvx2, bool usesAvx512)
        => new(usesAvx512 ? "x86-64-v4" : hasAvx2 ? "x86-64-v3" : "x86-64-v2");

    /// <summary>Of an arm64 processor.</summary>
    /// <remarks>Atomic instructions came with those of <paramref name="hasRdm"/>, and are not told by themselves.</remarks>
    public static ProcessorInstructions OfArm(bool isArm, bool hasRdm, bool hasDp, bool hasAes, bool hasSha256)
    {
        (bool Has, string Name)[] parts = [(hasAes, "aes"), (hasDp, "dotprod"), (hasRdm, "lse"), (hasRdm, "rdma"), (hasSha256, "sha2")];
        var names = string.Join(',', parts.Where(part => part.Has).Select(part => part.Name));
        return new ProcessorInstructions(isArm && names.Length > 0 ? names : null);
    }
}
