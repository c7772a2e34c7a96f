using Tachyscope.Analysis.Histories;
using Tachyscope.Exports.Charts;
using Tachyscope.Exports.Formats;
using Tachyscope.Exports.Pages;
using Tachyscope.Exports.Pictures;

namespace Tachyscope.Exports;

/// <summary>Writes how studies went over their history, by the file's ending.</summary>
public static class TrendFile
{
    private static readonly (string Ending, Action<IReadOnlyList<StudyTrend>, Stream> Write)[] Formats =
    [
        (".html", TrendPage.Write),
        (".csv", CsvExport.WriteTrends),
        (".svg", (trends, stream) => PictureExport.WriteSvg(TrendChart.Of(trends), stream)),
        (".png", (trends, stream) => PictureExport.WritePng(TrendChart.Of(trends), stream)),
    ];

    /// <summary>The endings there are.</summary>
    public static IReadOnlyList<string> Endings { get; } = [.. Formats.Select(format => format.Ending)];

    /// <summary>Whether a file's ending is one of these.</summary>
    /// <param name="path">The file.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        return Array.Exists(Formats, format => path.EndsWith(format.Ending, StringComparison.OrdinalIgnoreCase)) ? null
            : $"\"{Path.GetExtension(path)}\" is no ending of a trend that can be written; there are {string.Join(", ", Endings)}.";
    }

    /// <summary>Writes one.</summary>
    /// <param name="trends">What is written.</param>
    /// <param name="path">The file, its ending one of <see cref="Endings"/>.</param>
    /// <param name="open">Writes a file whole: given its path and what writes it.</param>
    public static Task WriteAsync(IReadOnlyList<StudyTrend> trends, string path, Func<string, Func<Stream, Task>, Task> open)
    {
        ArgumentNullException.ThrowIfNull(trends);
        ArgumentNullException.ThrowIfNull(path);
        ArgumentNullException.ThrowIfNull(open);
        var format = Array.Find(Formats, format => path.EndsWith(format.Ending, StringComparison.OrdinalIgnoreCase));
        return open(path, stream =>
        {
            format.Write(trends, stream);
            return Task.CompletedTask;
        });
    }
}
