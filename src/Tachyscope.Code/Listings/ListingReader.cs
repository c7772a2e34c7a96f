using System.Globalization;
using System.Text.RegularExpressions;

namespace Tachyscope.Code.Listings;

/// <summary>
/// Reads what the runtime's compiler lists of the methods it compiles (<c>DOTNET_JitDisasm</c> with
/// <c>DOTNET_JitDisasmWithCodeBytes</c>), on .NET 8, 9 and 10.
/// </summary>
/// <remarks>
/// Two threads of a process may compile at once, and their listings then run into each other. A listing counts as read only when every
/// line has a known form, its blocks follow one another, and the bytes of its instructions add up to the length it states.
/// </remarks>
public static partial class ListingReader
{
    private const string Header = "; Assembly listing for method ";
    private const string LengthLine = "; Total bytes of code ";

    /// <summary>Reads all listings, oldest first; of code that is not optimised only method and tier.</summary>
    /// <param name="text">The listings.</param>
    public static IEnumerable<MachineListing> Read(TextReader text)
    {
        ArgumentNullException.ThrowIfNull(text);
        List<string>? lines = null;
        while (text.ReadLine() is { } line)
        {
            // In the middle of a line, another thread wrote; both are spoilt.
            var at = line.IndexOf(Header, StringComparison.Ordinal);
            if (at >= 0)
            {
                if (lines is not null)
                {
                    yield return Listing(lines);
                }

                lines = [line[at..]];
                if (at > 0)
                {
                    lines.Add("");
                    lines.Add(line[..at]);
                }
            }
            else if (lines is not null)
            {
                lines.Add(line);
                if (line.StartsWith(LengthLine, StringComparison.Ordinal))
                {
                    yield return Listing(lines);
                    lines = null;
                }
            }
        }

        if (lines is not null)
        {
            yield return Listing(lines);
        }
    }

    private static MachineListing Listing(List<string> lines)
    {
        var title = lines[0][Header.Length..];
        var tier = title.LastIndexOf(" (", StringComparison.Ordinal);
        var listing = new MachineListing
        {
            Method = tier < 0 ? title : title[..tier], Tier = tier < 0 ? "" : title[(tier + 2)..].TrimEnd(')'), Raw = lines,
        };
        return tier < 0 ? listing with { Problem = "its first line is not whole" }
            : listing.IsFinal || listing.Tier.Contains("Tier1", StringComparison.Ordinal) ? Body(listing)
            : listing with { Raw = [] };
    }

    private static MachineListing Body(MachineListing listing)
    {
        var reading = new Reading();
        foreach (var line in listing.Raw.Skip(1))
        {
            if (!reading.Take(line))
            {
                return listing with { Problem = $"\"{line.Trim()}\" is in no form known" };
            }
        }

        return reading.Problem is { } problem ? listing with { Problem = problem } : listing with
        {
            Instructions = reading.Instructions, Profile = reading.Profile, Constants = reading.Constants, CodeBytes = reading.Length,
            Blocks = reading.Blocks(), Cases = reading.Cases(),
        };
    }

    [GeneratedRegex(@"^(G_M\d+_IG\d+):\s+;; offset=0x([0-9A-F]+)$")]
    private static partial Regex LabelLine();

    [GeneratedRegex(@"^ {7,}(?:([0-9A-F]{2,})\s+)?([a-z][a-z0-9_.]*)(?:\s+(.*?))?\s*$")]
    private static partial Regex InstructionLine();

    [GeneratedRegex(@"^(RWD\d+)?\s+(d[bdwq]\s.*)$")]
    private static partial Regex DataLine();

    [GeneratedRegex(@"^; Emitting BLENDED_CODE for (.*?)(?: on Unix| - Unix| on Windows| - Windows)?$")]
    private static partial Regex InstructionsLine();

    [GeneratedRegex(@"^; optimized using (.+)$")]
    private static partial Regex ProfileLine();

    [GeneratedRegex(@"\bG_M\d+_IG\d+\b")]
    private static partial Regex Label();

    /// <summary>The part of a listing read so far.</summary>
    private sealed class Reading
    {
        private readonly List<(string Label, int Offset, List<MachineInstruction> Instructions)> _blocks = [];
        private readonly Dictionary<string, string> _constants = new(StringComparer.Ordinal);
        private const int LargestGap = 8;

        private readonly List<string> _cases = [];
        private string _constant = "";
        private int _offset;
        private int _unlisted;
        private bool _hasEnded;
        private bool _lacksBytes;

        public string Instructions { get; private set; } = "";

        public string? Profile { get; private set; }

        public int Length { get; private set; }

        public IReadOnlyDictionary<string, string> Constants => _constants;

        public string? Problem => !_hasEnded ? "it does not end"
            : _blocks.Count == 0 ? "it has no instructions"
            : !_lacksBytes && _offset + _unlisted != Length ? string.Create(CultureInfo.InvariantCulture,
                $"its instructions are {_offset + _unlisted} bytes long, and it states {Length}")
            : null;

        public bool Take(string line)
        {
            if (line.Length == 0 || line == " ")
            {
                return true;
            }

            if (line[0] == ';')
            {
                TakeRemark(line);
                return true;
            }

            if (LabelLine().Match(line) is { Success: true } label)
            {
                // A few methods have bytes that are not listed; offsets tell where.
                var stated = int.Parse(label.Groups[2].ValueSpan, NumberStyles.HexNumber, CultureInfo.InvariantCulture);
                _blocks.Add((label.Groups[1].Value, stated, []));
                var gap = stated - _offset - _unlisted;
                _unlisted += gap;
                return IsNext(label.Groups[1].Value) && (_lacksBytes || gap is >= 0 and <= LargestGap);
            }

            if (DataLine().Match(line) is { Success: true } data)
            {
                _constant = data.Groups[1].Success ? data.Groups[1].Value : _constant;
                var (value, isCase) = (data.Groups[2].Value.Replace('\t', ' ').Split(" ; case")[0].Trim(), Label()
                    .Match(data.Groups[2].Value));
                _cases.AddRange(isCase.Success ? [isCase.Value] : []);
                _constants[_constant] = _constants.TryGetValue(_constant, out var before) ? $"{before}, {value}" : value;
                return _blocks.Count > 0;
            }

            return InstructionLine().Match(line) is { Success: true } match && _blocks.Count > 0 && TakeInstruction(match);
        }

        public IReadOnlyList<int> Cases()
        {
            var indices = Indices();
            return [.. _cases.Where(indices.ContainsKey).Select(label => indices[label]).Distinct()];
        }

        public IReadOnlyList<MachineBlock> Blocks()
        {
            var indices = Indices();
            return [.. _blocks.Select(block => new MachineBlock(block.Label, block.Offset,
                [.. block.Instructions.Select(instruction => Jumping(instruction, indices))]))];
        }

        // Blocks are numbered through; one that is missing is another listing's.
        private bool IsNext(string label)
            => int.TryParse(label.AsSpan(label.LastIndexOf("IG", StringComparison.Ordinal) + 2), NumberStyles.None,
            CultureInfo.InvariantCulture, out var number) && number == _blocks.Count;

        private Dictionary<string, int> Indices()
            => _blocks.Select((block, index) => (block.Label, index)).ToDictionary(StringComparer.Ordinal);

        private static MachineInstruction Jumping(MachineInstruction instruction, Dictionary<string, int> indices)
            => instruction.Mnemonic[0] == 'j' && Label().Match(instruction.Operands) is { Success: true } label
                ? instruction with { JumpsTo = indices.TryGetValue(label.Value, out var index) ? index : null }
                : instruction;

        private void TakeRemark(string line)
        {
            if (line.StartsWith(LengthLine, StringComparison.Ordinal))
            {
                _hasEnded = int.TryParse(line.AsSpan(LengthLine.Length), NumberStyles.None, CultureInfo.InvariantCulture, out var length);
                Length = length;
            }
            else if (InstructionsLine().Match(line) is { Success: true } instructions)
            {
                Instructions = instructions.Groups[1].Value;
            }
            else if (ProfileLine().Match(line) is { Success: true } profile)
            {
                Profile = profile.Groups[1].Value;
            }
        }

        private bool TakeInstruction(Match match)
        {
            var bytes = match.Groups[1].Length / 2;
            // Padding may come to nothing.
            _lacksBytes |= bytes == 0 && match.Groups[2].Value != "align";
            var operands = match.Groups[3].Value;
            _blocks[^1].Instructions.Add(CallText.Told(
                new MachineInstruction(_lacksBytes ? -1 : _offset + _unlisted, bytes, match.Groups[2].Value, operands)));
            _offset += bytes;
            return match.Groups[1].Length % 2 == 0;
        }
    }
}
