using System.Reflection.PortableExecutable;
using System.Text;

namespace Tachyscope.Lab.Compilers;

/// <summary>Reads which compiler made an assembly, as its debugging symbols say.</summary>
internal static class CompilerStamp
{
    private const string Key = "compiler-version";

    // Of the portable PDB format: compilation options.
    private static readonly Guid CompilationOptions = new("B5FEEC05-8CD0-4A83-96DA-466284BB4BD8");

    /// <summary>Version of the compiler; null where there are no symbols, or they do not say.</summary>
    /// <param name="assembly">Path of the assembly.</param>
    public static string? Of(string assembly)
    {
        try
        {
            using var file = new PEReader(File.OpenRead(assembly));
            if (!file.TryOpenAssociatedPortablePdb(assembly, path => File.Exists(path)
                ? File.OpenRead(path)
                : null, out var provider, out _))
            {
                return null;
            }

            using (provider)
            {
                var reader = provider!.GetMetadataReader();
                return reader.CustomDebugInformation.Select(reader.GetCustomDebugInformation)
                    .Where(information => reader.GetGuid(information.Kind) == CompilationOptions)
                    .Select(information => Encoding.UTF8.GetString(reader.GetBlobBytes(information.Value)).Split('\0'))
                    .Select(words => words.SkipWhile(word => word != Key).Skip(1).FirstOrDefault()?.Split('+')[0])
                    .FirstOrDefault();
            }
        }
        catch (Exception exception) when (exception is IOException or BadImageFormatException or InvalidOperationException)
        {
            return null;
        }
    }
}
