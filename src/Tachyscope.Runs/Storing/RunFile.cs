using System.Globalization;
using System.Text.Json;
using Tachyscope.Runs;

namespace Tachyscope.Storing;

/// <summary>Writes and reads saved runs: docs/run-format.md.</summary>
public static class RunFile
{
    /// <summary>Writes a run so that the file is whole at every moment: beside its place first, then moved there.</summary>
    /// <param name="run">The run.</param>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="IOException">The file could not be written.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be written.</exception>
    public static void Write(Run run, string path)
        => WholeFile.Write(path, stream => Write(run, stream));

    /// <summary>Writes a run into a stream.</summary>
    /// <param name="run">The run.</param>
    /// <param name="stream">Where to.</param>
    public static void Write(Run run, Stream stream) => JsonSerializer.Serialize(stream, run, RunJson.Options);

    /// <summary>Looks whether a run could be written, before it is measured.</summary>
    /// <param name="path">Path of the file.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string path) => WholeFile.ProblemOf(path);

    /// <summary>Reads a run.</summary>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="IOException">The file could not be read.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be read.</exception>
    /// <exception cref="InvalidDataException">The file holds no run that this version reads; the message says where and why.</exception>
    public static Run Read(string path) => Read(File.ReadAllBytes(path), path);

    /// <summary>Reads a run from what was written.</summary>
    /// <param name="written">All of it.</param>
    /// <param name="path">What to call it where something is wrong.</param>
    /// <exception cref="InvalidDataException">It holds no run that this version reads; the message says where and why.</exception>
    public static Run Read(byte[] written, string path)
    {
        try
        {
            // In one piece: from a stream, every array of readings would be gone through twice.
            return JsonSerializer.Deserialize<Run>(written, RunJson.Options) is { } run
                ? Accept(run, written, path)
                : throw NoRun(path);
        }
        catch (JsonException exception)
        {
            throw new InvalidDataException(Explain(written, path, exception), exception);
        }
    }

    private static Run Accept(Run run, byte[] written, string path)
    {
        if (Refusal(path, run.Format, run.Version) is { } refusal)
        {
            throw new InvalidDataException(refusal);
        }

        if (RunCheck.Find(run) is var (place, fault))
        {
            var line = JsonPlace.In(written, place).Line is { } found ? string.Create(CultureInfo.InvariantCulture, $", line {found}") : "";
            throw new InvalidDataException($"{path}{line}, {place}: {fault}; the file was altered or damaged: take it from where it was "
                + $"saved, or measure again.");
        }

        return run;
    }

    // What kind of file it is matters more than where it first differs from ours.
    private static string Explain(byte[] written, string path, JsonException exception)
    {
        var document = JsonPlace.In(written);
        if (!document.IsObject)
        {
            return NoRun(path).Message;
        }

        if (document.IsCutShort && document.Member("format") is null or Run.FormatName)
        {
            return string.Create(CultureInfo.InvariantCulture,
                $"{path}, line {document.LastLine}, {document.LastPath}: the file ends in the middle; it was cut short: take it from "
                    + $"where it was saved, or measure again.");
        }

        if (Refusal(path, document.Member("format"), int.TryParse(document.Member("version"), CultureInfo.InvariantCulture, out var version)
            ? version
            : null) is { } refusal)
        {
            return refusal;
        }

        // The serialiser repeats path and line in its message.
        var reason = exception.Message.Split(" Path: ")[0].TrimEnd('.');
        var part = exception.Data[ReadingLinesConverter.Index] is int index ? FormattableString.Invariant($"[{index}]") : "";
        return string.Create(
            CultureInfo.InvariantCulture,
                $"{path}, line {(exception.LineNumber ?? 0) + 1}, {exception.Path}{part}: {reason}; the file was altered or damaged: "
                    + $"take it from where it was saved, or measure again.");
    }

    private static string? Refusal(string path, string? format, int? version)
        => format != Run.FormatName
            ? $"{path}, $.format: {(format is null ? "it has none" : $"\"{format}\" is not \"{Run.FormatName}\"")}, so it is no run of "
                + "this tool; name a file written with --out."
            : version is >= Run.OldestVersion and <= Run.CurrentVersion ? null
            : version > Run.CurrentVersion ? string.Create(CultureInfo.InvariantCulture, $"{path}, $.version: {version} is newer than "
                + $"{Run.CurrentVersion}, which this tool reads; take a newer tool.")
            : $"{path}, $.version: {version?.ToString(CultureInfo.InvariantCulture) ?? "none"} is none of {Run.OldestVersion} to "
                + $"{Run.CurrentVersion}, which this tool reads; take the tool that wrote it.";

    private static InvalidDataException NoRun(string path)
        => new($"{path}: it holds no JSON object, so it is no run of this tool; name a file written with --out.");
}
