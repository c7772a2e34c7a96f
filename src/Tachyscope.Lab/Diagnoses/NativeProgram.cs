using System.ComponentModel;
using System.Globalization;
using Tachyscope.Lab.Processes;

namespace Tachyscope.Lab.Diagnoses;

/// <summary>A program compiled ahead of time, whose functions are found by its symbols and told by a disassembler (nm and
/// objdump).</summary>
public sealed class NativeProgram
{
    private const string Missing = "reading what was compiled ahead of time takes nm and objdump; apt-get install binutils.";

    private readonly string _program;
    private readonly List<(ulong Address, string Name)> _symbols;
    private readonly Dictionary<ulong, string> _first = [];

    private NativeProgram(string program, List<(ulong Address, string Name)> symbols)
    {
        _program = program;
        _symbols = symbols;
        foreach (var (address, name) in symbols)
        {
            _first.TryAdd(address, name);
        }
    }

    /// <summary>Names of all functions, in the order of their addresses.</summary>
    public IEnumerable<string> Names => _symbols.Select(symbol => symbol.Name);

    /// <summary>Opens a program; its symbols may lie beside it, in a file of the same name that ends in .dbg.</summary>
    /// <param name="program">Its path.</param>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>The program; or why it cannot be read, with the way out.</returns>
    public static async Task<(NativeProgram? Program, string? Problem)> OpenAsync(string program, CancellationToken cancellation)
    {
        var aside = $"{program}.dbg";
        try
        {
            var found = await ShellCommand.RunAsync("nm", null, ["--defined-only", "-n", File.Exists(aside) ? aside : program], [],
                cancellation);
            List<(ulong, string)> symbols = [.. found.Output.Split('\n').Select(Symbol).OfType<(ulong, string)>()];
            return symbols.Count == 0 ? (null, $"{program} has no symbols to find methods by; publish it without StripSymbols.")
                : (new NativeProgram(program, symbols), null);
        }
        catch (Win32Exception)
        {
            return (null, Missing);
        }
    }

    /// <summary>The function that begins at an address; null when none does.</summary>
    /// <param name="address">The address.</param>
    public string? NameAt(ulong address) => _first.GetValueOrDefault(address);

    /// <summary>The disassembler's lines of a function.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>The lines, none when there is no such function; or why there are none, with the way out.</returns>
    public async Task<(IReadOnlyList<string> Lines, string? Problem)> LinesAsync(string name, CancellationToken cancellation)
    {
        var index = _symbols.FindIndex(symbol => symbol.Name == name);
        var next = index < 0 ? -1 : _symbols.FindIndex(index, symbol => symbol.Address > _symbols[index].Address);
        if (next < 0)
        {
            return ([], null);
        }

        try
        {
            var told = await ShellCommand.RunAsync("objdump", null,
                ["-d", "-w", "-M", "intel", $"--start-address={Hex(_symbols[index].Address)}",
                    $"--stop-address={Hex(_symbols[next].Address)}", _program],
                [], cancellation);
            return told.ExitCode == 0 ? (told.Output.Split('\n'), null) : ([], $"objdump could not read {_program}: {told.Error.Trim()}");
        }
        catch (Win32Exception)
        {
            return ([], Missing);
        }
    }

    private static (ulong, string)? Symbol(string line)
        => line.Split(' ') is [var address, "t" or "T" or "w" or "W", var name]
            && ulong.TryParse(address, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var at) ? (at, name.TrimEnd()) : null;

    private static string Hex(ulong address) => string.Create(CultureInfo.InvariantCulture, $"0x{address:x}");
}
