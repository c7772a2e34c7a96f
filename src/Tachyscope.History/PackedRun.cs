using System.IO.Compression;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.History;

/// <summary>A run with its readings as one body of bytes: its file, packed.</summary>
internal static class PackedRun
{
    public static byte[] Of(Run run)
    {
        using var packed = new MemoryStream();
        using (var packer = new BrotliStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            RunFile.Write(run, packer);
        }

        return packed.ToArray();
    }

    public static Run Read(byte[] body, string name)
    {
        try
        {
            using var unpacked = new MemoryStream();
            using (var unpacker = new BrotliStream(new MemoryStream(body), CompressionMode.Decompress))
            {
                unpacker.CopyTo(unpacked);
            }

            return RunFile.Read(unpacked.ToArray(), name);
        }
        catch (InvalidDataException exception)
        {
            throw new HistoryException($"{name} is damaged: {exception.Message}", exception);
        }
        catch (InvalidOperationException exception)
        {
            throw new HistoryException($"{name} is damaged: its readings cannot be unpacked; remove it with history remove.", exception);
        }
    }
}
