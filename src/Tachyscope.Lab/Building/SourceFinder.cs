using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Building;

/// <summary>Finds the line a method was written in, by the portable symbols within its assembly or beside it.</summary>
internal static class SourceFinder
{
    /// <summary>A study whose variants tell their line instead of the method a worker knows them by.</summary>
    public static StudyDescription WithLines(StudyDescription study)
    {
        var files = new Dictionary<string, string>();
        return study with
        {
            Variants = [.. study.Variants.Select(row => row with { Method = null, Source = row.Method is { } method ? Find(method, files)
                : null })],
        };
    }

    // A line is a convenience: symbols that cannot be read are as good as none.
    private static SourcePlace? Find(MethodPlace method, Dictionary<string, string> files)
    {
        try
        {
            using var assembly = new PEReader(File.OpenRead(method.Assembly));
            return assembly.TryOpenAssociatedPortablePdb(method.Assembly, path => File.Exists(path) ? File.OpenRead(path)
                : null, out var symbols, out _)
                ? Read(symbols!, method.Token, files)
                : null;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or BadImageFormatException
            or ArgumentException or NotSupportedException or InvalidCastException)
        {
            return null;
        }
    }

    private static SourcePlace? Read(MetadataReaderProvider symbols, int token, Dictionary<string, string> files)
    {
        using (symbols)
        {
            var reader = symbols.GetMetadataReader();
            var handle = ((MethodDefinitionHandle)MetadataTokens.EntityHandle(token)).ToDebugInformationHandle();
            foreach (var point in reader.GetMethodDebugInformation(handle).GetSequencePoints())
            {
                if (!point.IsHidden)
                {
                    var path = reader.GetString(reader.GetDocument(point.Document).Name);
                    if (!files.TryGetValue(path, out var file))
                    {
                        files[path] = file = FromRoot(path);
                    }

                    return new SourcePlace { File = file, Line = point.StartLine };
                }
            }

            return null;
        }
    }

    // Where a repository lies on a machine is nobody's business, and no help to who reads the file elsewhere.
    private static string FromRoot(string path)
    {
        for (var folder = Path.GetDirectoryName(path); !string.IsNullOrEmpty(folder); folder = Path.GetDirectoryName(folder))
        {
            if (Path.Exists(Path.Combine(folder, ".git")))
            {
                return Path.GetRelativePath(folder, path).Replace('\\', '/');
            }
        }

        return path.Split('/', '\\')[^1];
    }
}
