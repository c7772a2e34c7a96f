namespace Tachyscope.Code.Listings;

/// <summary>One instruction of a listing.</summary>
/// <param name="Offset">Where it begins, in bytes from the method's first; -1 where the listing does not tell lengths.</param>
/// <param name="Length">How long it is, in bytes; 0 where the listing does not tell.</param>
/// <param name="Mnemonic">What it does, such as <c>vaddpd</c>.</param>
/// <param name="Operands">What it does it with, as it stands in the listing; empty when there is nothing.</param>
public sealed record MachineInstruction(int Offset, int Length, string Mnemonic, string Operands)
{
    /// <summary>The method or helper it calls or goes over to, as the listing names it; null when it does neither.</summary>
    public string? Callee { get; init; }

    /// <summary>Whether the callee is found in a table or a delegate when the call is made: a virtual call, one of an interface, one
    /// through a pointer.</summary>
    public bool IsIndirectCall { get; init; }

    /// <summary>Index of the block it jumps to; null when it does not, or leaves the method.</summary>
    public int? JumpsTo { get; init; }

    /// <summary>Whether it calls, or ends the method with a call.</summary>
    public bool IsCall => Mnemonic == "call" || IsTailCall;

    /// <summary>Whether it ends the method by going over to another.</summary>
    public bool IsTailCall => Mnemonic is "tail.jmp" or "rex.jmp" || (Mnemonic == "jmp" && Callee is not null);

    /// <summary>Whether it jumps or does not, depending on a comparison.</summary>
    public bool IsBranch => Mnemonic.Length > 1 && Mnemonic[0] == 'j' && Mnemonic != "jmp";

    /// <summary>The instruction as a line.</summary>
    public override string ToString() => Operands.Length == 0 ? Mnemonic : $"{Mnemonic,-8} {Operands}";
}
