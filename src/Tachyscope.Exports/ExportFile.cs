using Tachyscope.Exports.Charts;
using Tachyscope.Exports.Formats;
using Tachyscope.Exports.Pages;
using Tachyscope.Exports.Pictures;

namespace Tachyscope.Exports;

/// <summary>Writes a run and what was found of it into files of other formats, each by its ending.</summary>
public static class ExportFile
{
    private const string Picture = "contrasts";
    private const string Page = ".html";

    // The longest first: a table of readings ends like any other.
    private static readonly (string Ending, Func<Export, Stream, Task> Write)[] Formats =
    [
        (".readings.csv", Now(CsvExport.WriteReadings)),
        (".csv", Now(CsvExport.WriteResults)),
        (Page, Now(PageExport.Write)),
        (".md", Now(MarkdownExport.Write)),
        (".xml", Now(JUnitExport.Write)),
        (".sarif", Now(SarifExport.Write)),
        (".prom", Now(OpenMetricsExport.Write)),
        (".parquet", ParquetExport.WriteAsync),
    ];

    private static readonly string[] Pictures = [".svg", ".png"];

    /// <summary>The endings there are.</summary>
    public static IReadOnlyList<string> Endings { get; } = [.. Formats.Select(format => format.Ending), .. Pictures];

    /// <summary>Whether what was made of variants is written to it with the rest, where that is known.</summary>
    /// <param name="path">The file.</param>
    public static bool HoldsCode(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        return path.EndsWith(Page, StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>Whether a file's ending is one of these, and where it is a picture whether its figure is known.</summary>
    /// <param name="path">The file.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        var ending = Path.GetExtension(path);
        if (Formats.Any(format => path.EndsWith(format.Ending, StringComparison.OrdinalIgnoreCase)))
        {
            return null;
        }

        if (!Pictures.Contains(ending, StringComparer.OrdinalIgnoreCase))
        {
            return $"\"{ending}\" is no ending of a file that can be written; there are .json, {string.Join(", ", Endings)}.";
        }

        var named = Named(path);
        return named is null || ChartReporter.Names.Contains(named) ? null
            : $"\"{named}\" is no figure; name one before the ending, as in run.growth{ending}: {string.Join(", ", ChartReporter.Names)}.";
    }

    /// <summary>Writes one; a picture that several studies or inputs have becomes a file for each, their names numbered.</summary>
    /// <param name="export">What is written.</param>
    /// <param name="path">The file, its ending one of <see cref="Endings"/>.</param>
    /// <param name="open">Writes a file whole: given its path and what writes it.</param>
    /// <returns>The files written.</returns>
    /// <exception cref="InvalidDataException">The run has no figure of that name.</exception>
    public static async Task<IReadOnlyList<string>> WriteAsync(Export export, string path, Func<string, Func<Stream, Task>, Task> open)
    {
        ArgumentNullException.ThrowIfNull(export);
        ArgumentNullException.ThrowIfNull(path);
        ArgumentNullException.ThrowIfNull(open);
        if (Array.Find(Formats, format => path.EndsWith(format.Ending, StringComparison.OrdinalIgnoreCase)) is { Write: not null } format)
        {
            await open(path, stream => format.Write(export, stream));
            return [path];
        }

        var name = Named(path) ?? Picture;
        var all = export.Run.Studies.Zip(export.Found).SelectMany(study => ChartReporter.Of(export.Run, study.First, study.Second)
            .Select(chart => export.Found.Count > 1 ? chart with { Title = $"{study.First.Study.Name}: {chart.Title}" } : chart)).ToList();
        Chart[] charts = [.. all.Where(chart => chart.Name == name)];
        if (charts.Length == 0)
        {
            var there = string.Join(", ", all.Select(chart => chart.Name).Distinct());
            throw new InvalidDataException($"this run has no figure \"{name}\"; it has {there}.");
        }

        var ending = Path.GetExtension(path);
        List<string> written = [];
        foreach (var (chart, index) in charts.Select((chart, index) => (chart, index)))
        {
            var file = charts.Length == 1 ? path : Path.ChangeExtension(path, $"{index + 1}{ending}");
            await open(file, stream =>
            {
                (ending.Equals(".svg", StringComparison.OrdinalIgnoreCase) ? (Action<Chart, Stream>)PictureExport.WriteSvg
                    : PictureExport.WritePng)(chart, stream);
                return Task.CompletedTask;
            });
            written.Add(file);
        }

        return written;
    }

    // What stands between the last two points.
    private static string? Named(string path)
        => Path.GetExtension(Path.GetFileNameWithoutExtension(path)) is { Length: > 1 } middle ? middle[1..] : null;

    private static Func<Export, Stream, Task> Now(Action<Export, Stream> write) => (export, stream) =>
    {
        write(export, stream);
        return Task.CompletedTask;
    };
}
