using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Tachyscope.Storing;

namespace Tachyscope.Lab.Shares;

/// <summary>Writes and reads shares: docs/shares.md.</summary>
public static class ShareFile
{
    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        RespectNullableAnnotations = true,
        WriteIndented = true,
        TypeInfoResolver = new DefaultJsonTypeInfoResolver(),
    };

    /// <summary>Name of a share's file, such as "share-3.json" or "share-small-3.json".</summary>
    /// <param name="share">The share.</param>
    public static string NameOf(Share share) => $"share-{Suffix(share)}.json";

    /// <summary>Name of the file of a share's run, such as "run-3.json".</summary>
    /// <param name="share">The share.</param>
    public static string RunNameOf(Share share) => $"run-{Suffix(share)}.json";

    /// <summary>Writes a share so that the file is whole at every moment.</summary>
    /// <param name="share">The share.</param>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="IOException">The file could not be written.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be written.</exception>
    public static void Write(Share share, string path) => WholeFile.Write(path, stream => JsonSerializer.Serialize(stream, share, Options));

    /// <summary>Whether a file says that it is a share; false where it cannot be read or is none.</summary>
    /// <param name="path">Path of the file.</param>
    public static bool IsOne(string path)
    {
        try
        {
            using var document = JsonDocument.Parse(File.ReadAllBytes(path));
            return document.RootElement.ValueKind == JsonValueKind.Object
                && document.RootElement.TryGetProperty("format", out var format) && format.ValueEquals(Share.FormatName);
        }
        catch (Exception exception) when (exception is JsonException or IOException or UnauthorizedAccessException)
        {
            return false;
        }
    }

    /// <summary>Reads a share.</summary>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="InvalidDataException">The file holds no share that this version reads; the message says why, and the way
    /// out.</exception>
    public static Share Read(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        try
        {
            if (!IsOne(path) && File.Exists(path))
            {
                throw new InvalidDataException($"{path} is no share of a plan; name a file that tachyscope plan wrote, such as "
                    + "share-1.json.");
            }

            var share = JsonSerializer.Deserialize<Share>(File.ReadAllBytes(path), Options)!;
            return share.Version == Share.CurrentVersion ? share
                : throw new InvalidDataException(string.Create(CultureInfo.InvariantCulture,
                $"{path}: version {share.Version} is none that this tool reads, which is {Share.CurrentVersion}; measure it with the "
                    + $"tool that planned it."));
        }
        catch (JsonException exception)
        {
            throw new InvalidDataException(FormattableString.Invariant(
                $"{path}, line {(exception.LineNumber ?? 0) + 1}, {exception.Path}: it cannot be read; plan again."), exception);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            throw new InvalidDataException($"the share {path} cannot be read: {exception.Message}", exception);
        }
    }

    private static string Suffix(Share share)
        => FormattableString.Invariant($"{(share.Part.Machine is { } machine ? $"{machine}-" : "")}{share.Part.Number}");
}
