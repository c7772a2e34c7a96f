using System.Text.RegularExpressions;

namespace Tachyscope.Code.Listings;

/// <summary>Tells from a call's operands what is called, and how it is found.</summary>
internal static partial class CallText
{
    /// <summary>An instruction that knows what it calls.</summary>
    public static MachineInstruction Told(MachineInstruction instruction)
    {
        if (instruction.Mnemonic is not ("call" or "tail.jmp" or "rex.jmp" or "jmp"))
        {
            return instruction;
        }

        // What a block of the method itself is entered by is no call: the end of a try is written so.
        var operands = instruction.Operands;
        if (operands.Contains("G_M", StringComparison.Ordinal) && LocalTarget().IsMatch(operands))
        {
            return instruction;
        }

        if (ThroughTable().Match(operands) is { Success: true } table)
        {
            var name = table.Groups[1].Value;
            return instruction.Mnemonic == "jmp" && name.Length == 0 ? instruction
                : instruction with { Callee = name, IsIndirectCall = true };
        }

        return instruction with { Callee = operands.StartsWith('[') && operands.EndsWith(']') ? operands[1..^1] : operands };
    }

    [GeneratedRegex(@"^(?:SHORT )?G_M\d+_IG\d+$")]
    private static partial Regex LocalTarget();

    // [rax+0x30]System.Delegate:GetTarget():System.Object:this, [r11]Lamp:Light():this, or a register alone.
    [GeneratedRegex(@"^(?:r(?:[abcd]x|[sd]i|[sb]p|\d{1,2})|\[r(?:[abcd]x|[sd]i|[sb]p|\d{1,2})(?:[+*\-][^\]]*)?\](\S.*)?)$")]
    private static partial Regex ThroughTable();
}
