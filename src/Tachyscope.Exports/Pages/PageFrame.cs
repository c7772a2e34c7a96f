using System.Globalization;
using System.Text;
using System.Text.Json;
using Tachyscope.Exports.Charts;
using static Tachyscope.Exports.Pages.Markup;

namespace Tachyscope.Exports.Pages;

/// <summary>What every page has: its head, what it is styled and drawn by, and the charts on it. All of it is in the page.</summary>
internal sealed class PageFrame
{
    private readonly StringBuilder _page = new();
    private readonly List<Chart> _charts = [];

    /// <summary>Everything above the main part, which it begins.</summary>
    /// <param name="title">What the page is about.</param>
    /// <param name="ground">What that rests on, in a line.</param>
    public void Begin(string title, string ground)
    {
        Line("<!doctype html>");
        Line("<html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">");
        Line($"<title>{Html(title)}</title>");
        // Nothing is fetched, whatever a name holds.
        Line("<meta http-equiv=\"Content-Security-Policy\"");
        Line("  content=\"default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; img-src data:\">");
        Line($"<style>{Resource("page.css")}</style></head><body>");
        Line("<a class=\"skip\" href=\"#main\">To the results</a>");
        Line($"<header><div><h1>{Html(title)}</h1><p class=\"faint\">{Html(ground)}</p></div>");
        Line("<button class=\"act\" id=\"theme\" type=\"button\">light or dark</button></header>");
        Line("<main id=\"main\">");
    }

    /// <summary>What the charts are drawn by; the main part has ended before.</summary>
    public void End()
    {
        Line($"<script type=\"application/json\" id=\"charts\">{ChartJson()}</script>");
        Line($"<script>{Script("plot.js")}</script><script>{Script("page.js")}</script></body></html>");
    }

    public void WriteTo(Stream stream) => stream.Write(Encoding.UTF8.GetBytes(_page.ToString()));

    public void Line(string html) => _page.Append(html).Append('\n');

    /// <summary>A chart that is drawn when it is opened.</summary>
    public void Draw(Chart chart, bool isOpen)
    {
        var turn = chart.X.IsLogarithmic || chart.Y.IsLogarithmic
            ? " <button class=\"act\" type=\"button\" aria-pressed=\"false\">linear axes</button>"
            : "";
        Line($"<details data-chart=\"{_charts.Count}\"{(isOpen ? " open" : "")}><summary>{Html(chart.Title)}</summary><figure>");
        Line($"<div class=\"plot\" role=\"img\" aria-label=\"{Html(chart.Title)}; its figures stand in the table below\"></div>");
        Line($"<figcaption>{Html(chart.Note)}{turn}</figcaption>");
        Line($"<details><summary>as a table</summary>{Markup.Scrolled("the figures", "")}</details></figure></details>");
        _charts.Add(chart);
    }

    private string ChartJson()
    {
        using var stream = new MemoryStream();
        // The default escapes whatever could end a script.
        using (var json = new Utf8JsonWriter(stream))
        {
            json.WriteStartArray();
            _charts.ForEach(chart => Write(json, chart));
            json.WriteEndArray();
        }

        return Encoding.UTF8.GetString(stream.ToArray());
    }

    private static void Write(Utf8JsonWriter json, Chart chart)
    {
        json.WriteStartObject();
        Write(json, "x", chart.X);
        Write(json, "y", chart.Y);
        json.WriteStartArray("s");
        foreach (var series in chart.Series)
        {
            json.WriteStartObject();
            json.WriteString("n", series.Name);
            json.WriteString("k", series.Shape.ToString().ToLowerInvariant());
            json.WriteStartArray("p");
            foreach (var point in series.Points)
            {
                json.WriteStartArray();
                Number(json, point.X);
                Number(json, point.Y);
                if (point.Lower is not null || point.IsMuted)
                {
                    Number(json, point.Lower);
                    Number(json, point.Upper);
                    json.WriteNumberValue(point.IsMuted ? 1 : 0);
                }

                json.WriteEndArray();
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter json, string name, ChartAxis axis)
    {
        json.WriteStartObject(name);
        json.WriteString("l", axis.Label);
        json.WriteString("q", axis.Quantity.ToString().ToLowerInvariant());
        json.WriteBoolean("g", axis.IsLogarithmic);
        if (axis.Categories is { } categories)
        {
            json.WriteStartArray("c");
            categories.ToList().ForEach(json.WriteStringValue);
            json.WriteEndArray();
        }

        json.WriteEndObject();
    }

    // Five digits are more than a picture shows.
    private static void Number(Utf8JsonWriter json, double? value)
    {
        if (value is { } known && double.IsFinite(known))
        {
            json.WriteRawValue(known.ToString("G5", CultureInfo.InvariantCulture));
        }
        else
        {
            json.WriteNullValue();
        }
    }

    private static string Script(string name) => Resource(name).Replace("</script", "<\\/script", StringComparison.OrdinalIgnoreCase);

    private static string Resource(string name)
    {
        using var stream = typeof(PageFrame).Assembly.GetManifestResourceStream(name)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
