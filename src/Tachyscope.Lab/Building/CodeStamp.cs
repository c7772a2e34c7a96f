using System.Reflection.Metadata;
using System.Reflection.PortableExecutable;
using System.Security.Cryptography;

namespace Tachyscope.Lab.Building;

/// <summary>Tells whether two builds hold the same code.</summary>
/// <remarks>
/// A compiler that is deterministic, as C#'s is by default, gives a module the same identifier whenever it compiles the same source by the
/// same rules.
/// </remarks>
internal static class CodeStamp
{
    /// <summary>The stamp of a build.</summary>
    /// <param name="program">Path of its assembly, or of a program of machine code.</param>
    /// <returns>Null where nothing could be read.</returns>
    public static string? Of(string program)
    {
        try
        {
            if (!program.EndsWith(".dll", StringComparison.OrdinalIgnoreCase))
            {
                using var file = File.OpenRead(program);
                return Short(SHA256.HashData(file));
            }

            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            foreach (var path in Directory.EnumerateFiles(Path.GetDirectoryName(program)!, "*.dll").Order(StringComparer.Ordinal))
            {
                // Ours measures, and is no part of what is measured.
                if (Path.GetFileName(path) != "Tachyscope.dll" && ModuleOf(path) is { } module)
                {
                    hash.AppendData(module.ToByteArray());
                }
            }

            return Short(hash.GetCurrentHash());
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static string Short(byte[] hash) => Convert.ToHexStringLower(hash.AsSpan(0, 16));

    private static Guid? ModuleOf(string path)
    {
        using var assembly = new PEReader(File.OpenRead(path));
        try
        {
            if (!assembly.HasMetadata)
            {
                return null;
            }

            var reader = assembly.GetMetadataReader();
            return reader.GetGuid(reader.GetModuleDefinition().Mvid);
        }
        catch (BadImageFormatException)
        {
            return null;
        }
    }
}
