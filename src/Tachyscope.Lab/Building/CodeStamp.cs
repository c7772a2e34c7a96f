using System.Buffers.Binary;
using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;
using System.Security.Cryptography;

namespace Tachyscope.Lab.Building;

/// <summary>Tells whether two builds hold the same code, wherever they were built.</summary>
/// <remarks>
/// Of an assembly it takes the metadata, the bodies of methods, data and resources (ECMA-335, partition II), and leaves what names the
/// build itself: the module's identifier, the path of its symbols, and the addresses that depend on how long that is.
/// </remarks>
internal static class CodeStamp
{
    private const int AddressBytes = 4;

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
                if (Path.GetFileName(path) != "Tachyscope.dll")
                {
                    Append(hash, path);
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

    private static void Append(IncrementalHash hash, string path)
    {
        using var assembly = new PEReader(File.OpenRead(path));
        try
        {
            if (assembly.HasMetadata)
            {
                AppendMetadata(hash, assembly);
                AppendBodies(hash, assembly);
                AppendData(hash, assembly);
            }
        }
        catch (BadImageFormatException)
        {
            // Machine code that the assemblies call.
            hash.AppendData(SHA256.HashData(File.ReadAllBytes(path)));
        }
    }

    private static void AppendMetadata(IncrementalHash hash, PEReader assembly)
    {
        var reader = assembly.GetMetadataReader();
        var all = assembly.GetMetadata().GetContent().AsSpan();
        foreach (var heap in (HeapIndex[])[HeapIndex.String, HeapIndex.UserString, HeapIndex.Blob])
        {
            hash.AppendData(all.Slice(reader.GetHeapMetadataOffset(heap), reader.GetHeapSize(heap)));
        }

        foreach (var table in Enum.GetValues<TableIndex>().Where(table => table < TableIndex.Document))
        {
            var (rows, size) = (reader.GetTableRowCount(table), reader.GetTableRowSize(table));
            var bytes = all.Slice(reader.GetTableMetadataOffset(table), rows * size);
            // Where a body or data lies is the first column of these, and what lies there is taken below.
            var skipped = table is TableIndex.MethodDef or TableIndex.FieldRva ? AddressBytes : 0;
            for (var row = 0; row < rows; row++)
            {
                hash.AppendData(bytes.Slice((row * size) + skipped, size - skipped));
            }
        }
    }

    private static void AppendBodies(IncrementalHash hash, PEReader assembly)
    {
        var reader = assembly.GetMetadataReader();
        foreach (var handle in reader.MethodDefinitions)
        {
            if (reader.GetMethodDefinition(handle).RelativeVirtualAddress is not 0 and var address)
            {
                var body = assembly.GetMethodBody(address);
                hash.AppendData(body.GetILBytes() ?? []);
                Append(hash, body.MaxStack, body.LocalVariablesInitialized ? 1 : 0,
                    body.LocalSignature.IsNil ? 0 : reader.GetToken(body.LocalSignature));
                foreach (var region in body.ExceptionRegions)
                {
                    Append(hash, (int)region.Kind, region.TryOffset, region.TryLength, region.HandlerOffset, region.HandlerLength,
                        region.FilterOffset, region.CatchType.IsNil ? 0 : reader.GetToken(region.CatchType));
                }
            }
        }
    }

    private static void AppendData(IncrementalHash hash, PEReader assembly)
    {
        var reader = assembly.GetMetadataReader();
        foreach (var handle in reader.FieldDefinitions)
        {
            var field = reader.GetFieldDefinition(handle);
            if (field.GetRelativeVirtualAddress() is not 0 and var address)
            {
                hash.AppendData(assembly.GetSectionData(address).GetContent(0, SizeOf(reader, field)).AsSpan());
            }
        }

        if (assembly.PEHeaders.CorHeader!.ResourcesDirectory is { Size: > 0 } resources)
        {
            hash.AppendData(assembly.GetSectionData(resources.RelativeVirtualAddress).GetContent(0, resources.Size).AsSpan());
        }
    }

    // A type made to hold as many bytes, or a number.
    private static int SizeOf(MetadataReader reader, FieldDefinition field)
    {
        var signature = reader.GetBlobReader(field.Signature);
        signature.ReadSignatureHeader();
        return signature.ReadSignatureTypeCode() switch
        {
            SignatureTypeCode.TypeHandle => signature.ReadTypeHandle() is { Kind: HandleKind.TypeDefinition } type
                ? reader.GetTypeDefinition((TypeDefinitionHandle)type).GetLayout().Size : 0,
            SignatureTypeCode.SByte or SignatureTypeCode.Byte or SignatureTypeCode.Boolean => sizeof(byte),
            SignatureTypeCode.Int16 or SignatureTypeCode.UInt16 or SignatureTypeCode.Char => sizeof(short),
            SignatureTypeCode.Int32 or SignatureTypeCode.UInt32 or SignatureTypeCode.Single => sizeof(int),
            SignatureTypeCode.Int64 or SignatureTypeCode.UInt64 or SignatureTypeCode.Double => sizeof(long),
            _ => 0,
        };
    }

    private static void Append(IncrementalHash hash, params ReadOnlySpan<int> numbers)
    {
        Span<byte> bytes = stackalloc byte[sizeof(int)];
        foreach (var number in numbers)
        {
            BinaryPrimitives.WriteInt32LittleEndian(bytes, number);
            hash.AppendData(bytes);
        }
    }
}
