using System.Text.Json;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Storing;

/// <summary>Writes and reads saved runs: docs/run-format.md.</summary>
public static class RunFile
{
    /// <summary>Writes a run so that the file is whole at every moment: beside its place first, then moved there.</summary>
    /// <param name="run">The run.</param>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="IOException">The file could not be written.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be written.</exception>
    public static void Write(Run run, string path)
        => WholeFile.Write(path, stream => JsonSerializer.Serialize(stream, run, RunJson.Default.Run));

    /// <summary>Reads a run.</summary>
    /// <param name="path">Path of the file.</param>
    /// <exception cref="IOException">The file could not be read.</exception>
    /// <exception cref="InvalidDataException">The file holds no run that this version reads; the message says where and why.</exception>
    public static Run Read(string path)
    {
        using var stream = File.OpenRead(path);
        try
        {
            var run = JsonSerializer.Deserialize(stream, RunJson.Default.Run)
                ?? throw new InvalidDataException($"{path}: holds null, not a run.");
            return Accept(run, path);
        }
        catch (JsonException exception)
        {
            throw new InvalidDataException($"{path}, line {(exception.LineNumber ?? 0) + 1}, {exception.Path}: {exception.Message}", exception);
        }
    }

    private static Run Accept(Run run, string path)
    {
        if (run.Format != Run.FormatName)
        {
            throw new InvalidDataException($"{path}, $.format: \"{run.Format}\" is not \"{Run.FormatName}\"; name a file written by tachyscope run --out.");
        }

        return run.Version == Run.CurrentVersion
            ? run
            : throw new InvalidDataException($"{path}, $.version: {run.Version} is not {Run.CurrentVersion}, the version this tool reads; take the tool that wrote it.");
    }
}
