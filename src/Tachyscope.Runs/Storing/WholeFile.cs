using System.Diagnostics;
using System.Globalization;

namespace Tachyscope.Storing;

/// <summary>Writes files so that they are whole at every moment: beside their place first, then moved there.</summary>
public static class WholeFile
{
    private const string Ending = ".part";

    /// <summary>Writes a file of lines; its last one is ended.</summary>
    /// <param name="path">The file.</param>
    /// <param name="write">Writes what is in it.</param>
    /// <exception cref="IOException">The file could not be written.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be written.</exception>
    public static void Write(string path, Action<Stream> write)
        => WriteAsync(path, stream =>
        {
            write(stream);
            stream.WriteByte((byte)'\n');
            return Task.CompletedTask;
        }).GetAwaiter().GetResult();

    /// <summary>Writes a file of any kind.</summary>
    /// <param name="path">The file.</param>
    /// <param name="write">Writes what is in it.</param>
    /// <exception cref="IOException">The file could not be written.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be written.</exception>
    public static async Task WriteAsync(string path, Func<Stream, Task> write)
    {
        ArgumentNullException.ThrowIfNull(write);
        var full = Target(path);
        var beside = Beside(full);
        try
        {
            await using (var stream = File.Create(beside))
            {
                await write(stream);
            }

            File.Move(beside, full, overwrite: true);
        }
        finally
        {
            File.Delete(beside);
        }
    }

    /// <summary>
    /// Looks whether a file can be written, before there is anything to write, and takes away what runs that were killed have left beside
    /// it.
    /// </summary>
    /// <param name="path">The file.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string path)
    {
        var full = Target(path);
        var folder = Path.GetDirectoryName(full);
        if (!Directory.Exists(folder))
        {
            return $"there is no folder {folder}; make it first or name another.";
        }

        if (Directory.Exists(full))
        {
            return "that is a folder; name a file in it.";
        }

        try
        {
            foreach (var left in Directory.EnumerateFiles(folder, $"{Path.GetFileName(full)}.*{Ending}").Where(IsLeft))
            {
                File.Delete(left);
            }

            var beside = Beside(full);
            File.Create(beside).Dispose();
            File.Delete(beside);
            return null;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return $"nothing can be written to {folder} ({exception.Message.TrimEnd('.')}); name a file somewhere else.";
        }
    }

    // A link stays a link, and what it names is written.
    private static string Target(string path)
    {
        var full = Path.GetFullPath(path);
        return new FileInfo(full).LinkTarget is null ? full : File.ResolveLinkTarget(full, returnFinalTarget: true)?.FullName ?? full;
    }

    private static string Beside(string full) => string.Create(CultureInfo.InvariantCulture, $"{full}.{Environment.ProcessId}{Ending}");

    private static bool IsLeft(string beside)
    {
        var id = Path.GetExtension(Path.GetFileNameWithoutExtension(beside)).TrimStart('.');
        return int.TryParse(id, CultureInfo.InvariantCulture, out var process) && process != Environment.ProcessId && !IsRunning(process);
    }

    private static bool IsRunning(int process)
    {
        try
        {
            using var found = Process.GetProcessById(process);
            return !found.HasExited;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }
}
