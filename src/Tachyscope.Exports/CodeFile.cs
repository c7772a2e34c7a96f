using System.Text;
using Tachyscope.Exports.Pages;
using Tachyscope.Reports.Codes;
using Tachyscope.Reports.Terminal;

namespace Tachyscope.Exports;

/// <summary>Writes what was made of a study's variants, by the file's ending.</summary>
public static class CodeFile
{
    private static readonly (string Ending, Action<CodeReport, Stream> Write)[] Formats = [(".html", CodePage.Write), (".txt", WriteText)];

    /// <summary>The endings there are.</summary>
    public static IReadOnlyList<string> Endings { get; } = [.. Formats.Select(format => format.Ending)];

    /// <summary>Whether a file's ending is one of these.</summary>
    /// <param name="path">The file.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        return Array.Exists(Formats, format => path.EndsWith(format.Ending, StringComparison.OrdinalIgnoreCase)) ? null
            : $"\"{Path.GetExtension(path)}\" is no ending of code that can be written; there are {string.Join(", ", Endings)}.";
    }

    /// <summary>Writes one.</summary>
    /// <param name="report">What is written.</param>
    /// <param name="path">The file, its ending one of <see cref="Endings"/>.</param>
    /// <param name="open">Writes a file whole: given its path and what writes it.</param>
    public static Task WriteAsync(CodeReport report, string path, Func<string, Func<Stream, Task>, Task> open)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(path);
        ArgumentNullException.ThrowIfNull(open);
        var format = Array.Find(Formats, format => path.EndsWith(format.Ending, StringComparison.OrdinalIgnoreCase));
        return open(path, stream =>
        {
            format.Write(report, stream);
            return Task.CompletedTask;
        });
    }

    private static void WriteText(CodeReport report, Stream stream)
    {
        using var writer = new StreamWriter(stream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false),
            leaveOpen: true) { NewLine = "\n" };
        CodeView.Write(report, TerminalConsole.Plain(writer));
    }
}
