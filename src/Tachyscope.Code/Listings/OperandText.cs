using System.Text.RegularExpressions;

namespace Tachyscope.Code.Listings;

/// <summary>What the operands of an x64 instruction are made of.</summary>
internal static partial class OperandText
{
    /// <summary>Its operands, one by one.</summary>
    public static IEnumerable<string> Split(string operands)
    {
        var (depth, start) = (0, 0);
        for (var i = 0; i < operands.Length; i++)
        {
            depth += operands[i] switch { '[' or '(' or '{' => 1, ']' or ')' or '}' => -1, _ => 0 };
            if (operands[i] == ',' && depth == 0)
            {
                yield return operands[start..i].Trim();
                start = i + 1;
            }
        }

        if (start < operands.Length)
        {
            yield return operands[start..].Trim();
        }
    }

    /// <summary>Whether an operand lies in memory.</summary>
    public static bool IsMemory(string operand) => operand.Contains("ptr ", StringComparison.Ordinal);

    /// <summary>Whether an operand lies in the method's own frame.</summary>
    public static bool IsFrame(string operand) => FrameAddress().IsMatch(operand);

    /// <summary>Every register named, with the register it is a part of and the number of bits named.</summary>
    public static string Renamed(string operands, Func<string, string> name)
        => Register().Replace(operands, match =>
        {
            var (whole, bits) = Part(match.Value);
            return whole is "sp" or "bp" ? match.Value : $"{name(whole)}:{bits}";
        });

    /// <summary>The registers named, as the whole registers they are parts of.</summary>
    public static IEnumerable<string> Registers(string operands) => Register().Matches(operands).Select(match => Part(match.Value).Whole);

    /// <summary>The whole register that a name is a part of, and the bits it names.</summary>
    public static (string Whole, int Bits) Part(string name)
    {
        if (name[1..].StartsWith("mm", StringComparison.Ordinal))
        {
            return ($"v{name[3..]}", name[0] switch { 'x' => 128, 'y' => 256, _ => 512 });
        }

        if (name[0] == 'k')
        {
            return (name, 64);
        }

        if (name[0] == 'r' && char.IsAsciiDigit(name[1]))
        {
            return (name.TrimEnd('d', 'w', 'b'), name[^1] switch { 'd' => 32, 'w' => 16, 'b' => 8, _ => 64 });
        }

        var bits = name[0] switch { 'r' => 64, 'e' => 32, _ => name.Length == 3 || name[^1] is 'l' or 'h' ? 8 : 16 };
        var bare = name.Length == 3 ? (bits == 8 ? name[..2] : name[1..]) : name;
        return (bare is "al" or "ah" ? "ax" : bare is "bl" or "bh" ? "bx" : bare is "cl" or "ch" ? "cx" : bare is "dl" or "dh" ? "dx"
            : bare,
            bits);
    }

    [GeneratedRegex(@"\b(?:r(?:[abcd]x|[sd]i|[sb]p|(?:8|9|1[0-5])[dwb]?)|e(?:[abcd]x|[sd]i|[sb]p)|"
        + @"[abcd][lhx]|[sd]il?|[sb]pl?|[xyz]mm\d{1,2}|k[0-7])\b")]
    private static partial Regex Register();

    [GeneratedRegex(@"\[r[sb]p(?:[+\-]|\])")]
    private static partial Regex FrameAddress();
}
