using System.Diagnostics;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Iced.Intel;
using Tachyscope.Code.Listings;
using Tachyscope.Working;

namespace Tachyscope.Bench;

/// <summary>
/// Has the runtime compile the base library's texts, collections and numerics, and reads every listing twice: as the tool does, and by a
/// decoder from its bytes. Whether the name or the length of an instruction is misread, or where a jump back goes, is counted.
/// </summary>
internal static partial class ListingsBench
{
    private const string Patterns = "System.String:* System.Collections*:* System.Numerics*:*";
    private const int LeastMethods = 1_000;

    // What the runtime's compiler calls otherwise than the decoder.
    private static readonly Dictionary<string, string> s_names = new(StringComparer.Ordinal)
    {
        ["tail.jmp"] = "jmp", ["rex.jmp"] = "jmp", ["movsq"] = "movsq", ["movsxd"] = "movsxd",
    };

    /// <summary>Reads them.</summary>
    public static int Run()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope-bench");
        try
        {
            var file = Path.Combine(folder.FullName, "listing.txt");
            var start = new ProcessStartInfo(DotnetHost.Path, ["exec", typeof(ListingsBench).Assembly.Location, "compile"]);
            foreach (var (name, value) in ((string, string)[])[("JitDisasm", Patterns), ("JitDisasmWithCodeBytes", "1"),
                ("JitStdOutFile", file),
                ("TieredCompilation", "0"), ("ReadyToRun", "0")])
            {
                start.Environment[$"DOTNET_{name}"] = value;
            }

            using (var process = Process.Start(start)!)
            {
                process.WaitForExit(TimeSpan.FromMinutes(5));
            }

            return Tell(file);
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    /// <summary>Compiles them, in the process whose runtime lists them.</summary>
    public static int Compile()
    {
        Type[] arguments = [typeof(int), typeof(string), typeof(double)];
        foreach (var type in ((Assembly[])[typeof(string).Assembly, typeof(SortedSet<>).Assembly,
            typeof(System.Numerics.BigInteger).Assembly])
            .SelectMany(assembly => assembly.GetTypes()).Where(IsMeant))
        {
            Type[] made = type.IsGenericTypeDefinition ? [.. arguments.Select(argument => Made(type, argument)).OfType<Type>()] : [type];
            foreach (var method in made.SelectMany(one => one.GetMethods(
                BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Static | BindingFlags.Instance | BindingFlags.DeclaredOnly)))
            {
                Prepare(method);
            }
        }

        return 0;
    }

    private static bool IsMeant(Type type) => type == typeof(string) || (type.Namespace is { } name
        && (name.StartsWith("System.Collections", StringComparison.Ordinal)
            || name.StartsWith("System.Numerics", StringComparison.Ordinal)));

    private static Type? Made(Type type, Type argument)
    {
        try
        {
            return type.MakeGenericType([.. type.GetGenericArguments().Select(_ => argument)]);
        }
        catch (ArgumentException)
        {
            return null;
        }
    }

    private static void Prepare(MethodInfo method)
    {
        if (method.IsAbstract || method.ContainsGenericParameters || method.GetMethodBody() is null)
        {
            return;
        }

        try
        {
            RuntimeHelpers.PrepareMethod(method.MethodHandle,
                [.. (method.DeclaringType?.GetGenericArguments() ?? []).Select(type => type.TypeHandle)]);
        }
        catch (Exception exception) when (exception is TypeLoadException or PlatformNotSupportedException or ArgumentException
            or InvalidProgramException)
        {
            // What cannot be made of these arguments is not asked for.
        }
    }

    private static int Tell(string file)
    {
        using var text = new StreamReader(file);
        var begun = Stopwatch.GetTimestamp();
        var all = ListingReader.Read(text).ToList();
        var took = Stopwatch.GetElapsedTime(begun);
        var read = all.Where(listing => listing.Problem is null).ToList();
        var misread = read.SelectMany(Differences).ToList();
        var methods = read.Select(listing => listing.Method).Distinct().Count();
        Console.WriteLine($"{all.Count:N0} listings, {methods:N0} methods, {read.Sum(listing => listing.All.Count()):N0} instructions "
            + $"read in {took.TotalSeconds:0.0} s");
        Console.WriteLine($"not read: {all.Count - read.Count}; misread: {misread.Count}");
        foreach (var problem in all.Where(listing => listing.Problem is not null).Select(listing => $"{listing.Method}: {listing.Problem}")
            .Concat(misread).Take(20))
        {
            Console.WriteLine($"  {problem}");
        }

        var isReached = methods >= LeastMethods && misread.Count == 0 && all.Count == read.Count;
        Console.WriteLine(isReached ? "reached: a thousand methods and not one misread" : "not reached");
        return isReached ? 0 : 1;
    }

    // By the bytes, which the listing states beside what it calls them.
    private static IEnumerable<string> Differences(MachineListing listing)
    {
        byte[] bytes = [.. listing.Raw.Select(line => Bytes().Match(line)).Where(match => match.Success)
            .SelectMany(match => Convert.FromHexString(match.Groups[1].Value))];
        var reader = new ByteArrayCodeReader(bytes);
        var decoder = Decoder.Create(64, reader);
        var position = 0;
        foreach (var instruction in listing.All.Where(instruction => instruction.Length > 0))
        {
            if (instruction.Mnemonic is "align" or "lock")
            {
                position += instruction.Length;
                continue;
            }

            decoder.IP = (ulong)instruction.Offset;
            reader.Position = position;
            position += instruction.Length;
            var decoded = decoder.Decode();
            var name = decoded.Mnemonic.ToString().ToLowerInvariant();
            var target = instruction.JumpsTo is { } block ? listing.Blocks[block].Offset : -1;
            var told = s_names.GetValueOrDefault(instruction.Mnemonic, instruction.Mnemonic);
            if (decoded.Length != instruction.Length && !(name is "nop" || told.StartsWith("rep", StringComparison.Ordinal)))
            {
                yield return $"{listing.Method}: {instruction} is {instruction.Length} bytes long, and decodes to {decoded.Length} "
                    + $"({name})";
            }
            else if (Alike(name) != Alike(told))
            {
                yield return $"{listing.Method}: {instruction} decodes to {name}";
            }
            // A jump forward is listed before the bytes of its distance are final.
            else if (target >= 0 && target <= instruction.Offset && decoded.NearBranch64 != (ulong)target)
            {
                yield return $"{listing.Method}: {instruction} goes to {target}, and decodes to {decoded.NearBranch64}";
            }
        }
    }

    // Comparisons of vectors are named with their condition by one and without it by the other.
    private static string Alike(string name) => Compared().Replace(name, "$1$2");

    [GeneratedRegex(@"^ {7,}([0-9A-F]{2,})\s")]
    private static partial Regex Bytes();

    [GeneratedRegex(@"^(v?p?cmp)(?:eq|lt|le|gt|unord|neq|nlt|nle|ord|true|false|nge|ngt|ge)?(?:u|s)?(s[sd]|p[sd]|u?[bwdq])$")]
    private static partial Regex Compared();
}
