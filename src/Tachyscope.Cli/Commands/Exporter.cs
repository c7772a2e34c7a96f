using Tachyscope.Exports;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>Writes the files that show a run.</summary>
internal static class Exporter
{
    /// <summary>Writes all of them, and goes on with the next where one cannot be written.</summary>
    /// <returns>The files written, and what went wrong.</returns>
    public static async Task<(IReadOnlyList<string> Written, IReadOnlyList<string> Problems)> WriteAsync(
        Export export, IReadOnlyList<string> files)
    {
        List<string> written = [];
        List<string> problems = [];
        foreach (var file in files)
        {
            try
            {
                written.AddRange(await ExportFile.WriteAsync(export, file, WholeFile.WriteAsync));
            }
            catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or InvalidDataException)
            {
                problems.Add($"{file} could not be written: {exception.Message}");
            }
        }

        return (written, problems);
    }
}
