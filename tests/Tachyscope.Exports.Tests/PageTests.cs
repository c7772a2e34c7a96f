using System.Text.Json;
using PuppeteerSharp;

namespace Tachyscope.Exports.Tests;

/// <summary>The page as a reader has it: in a browser, from disk, with no network.</summary>
public sealed class PageTests : IDisposable
{
    private const int Patience = 120_000;
    private static readonly string[] Browsers = ["/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];
    private readonly Hostile _hostile = new();

    public void Dispose() => _hostile.Dispose();

    [Fact]
    public async Task It_draws_sorts_filters_turns_its_axes_and_reports_no_error()
    {
        var path = await _hostile.WriteAsync("page.html");
        await using var browser = await LaunchAsync();
        await using var page = await browser.NewPageAsync();
        page.DefaultTimeout = Patience;
        List<string> errors = [];
        List<string> fetched = [];
        page.PageError += (_, told) => errors.Add(told.Message);
        page.Console += (_, told) => errors.AddRange(told.Message.Type == ConsoleType.Error ? [told.Message.Text] : (string[])[]);
        page.Dialog += async (_, told) =>
        {
            errors.Add("a name was run as a script");
            await told.Dialog.Accept();
        };
        page.Request += (_, told) => fetched.Add(told.Request.Url);
        await page.SetViewportAsync(new ViewPortOptions { Width = 1280, Height = 800 });

        await page.GoToAsync(new Uri(path).AbsoluteUri);
        await page.WaitForSelectorAsync("details[data-chart][open] svg");

        // Names are text, to the letter, but for what would turn or hide it.
        Assert.Contains(Hostile.Study, await TextAsync(page, "h2#s0"), StringComparison.Ordinal);
        Assert.Equal("0", await AskAsync(page, "String(document.querySelectorAll('main script, main b').length)"));
        Assert.Equal(_hostile.Cells.ToString(System.Globalization.CultureInfo.InvariantCulture),
            await AskAsync(page, "String(document.querySelectorAll('#results tbody tr').length)"));

        // Sorting by a figure, with the keyboard.
        await page.FocusAsync("#results th:nth-child(4) button");
        await page.Keyboard.PressAsync("Enter");
        Assert.Equal("ascending", await AskAsync(page, "document.querySelector('#results th:nth-child(4)').getAttribute('aria-sort')"));
        Assert.Equal("true", await AskAsync(page,
            "String([...document.querySelectorAll('#results tbody td:nth-child(4)')].map(cell => Number(cell.dataset.v)).every((value, "
                + "place, all) => place === 0 || all[place - 1] <= value))"));

        // Filtering by study hides the rows and the section of the other.
        await page.SelectAsync("select[data-filter=study]", "fog");
        Assert.Equal($"{_hostile.Cells / 2} of {_hostile.Cells} rows", await TextAsync(page, "#count"));
        Assert.Equal("true,false",
            await AskAsync(page, "[...document.querySelectorAll('section[data-study]')].map(section => section.hidden).join()"));
        await page.SelectAsync("select[data-filter=study]", "");

        // Every figure opens, draws, has its table, and turns its axes where it can.
        Assert.Equal("", await AskAsync(page, """
            (() => {
              const wrong = [];
              document.querySelectorAll('details').forEach(box => { box.open = true; });
              return new Promise(done => setTimeout(() => {
                for (const box of document.querySelectorAll('details[data-chart]')) {
                  const name = box.querySelector('summary').textContent;
                  if (!box.querySelector('.plot svg')) { wrong.push(`${name}: not drawn`); }
                  if (box.querySelectorAll('details td').length === 0) { wrong.push(`${name}: no table`); }
                  const turn = box.querySelector('button');
                  const before = box.querySelector('.plot').innerHTML;
                  turn?.click();
                  if (turn && box.querySelector('.plot').innerHTML === before) { wrong.push(`${name}: does not turn`); }
                }
                done(wrong.join('; '));
              }, 1000));
            })()
            """));

        // Light to dark, and a telephone: nothing but tables may be wider than it.
        var light = await AskAsync(page, "getComputedStyle(document.body).backgroundColor");
        await page.ClickAsync("#theme");
        Assert.NotEqual(light, await AskAsync(page, "getComputedStyle(document.body).backgroundColor"));
        await page.SetViewportAsync(new ViewPortOptions { Width = 360, Height = 740 });
        Assert.Equal("", await AskAsync(page, """
            [...document.querySelectorAll('body *')].filter(part => !part.closest('.wide, .plot, pre, .skip') && part.getBoundingClientRect().right > 361)
              .map(part => `${part.tagName}.${part.className} ${part.textContent.slice(0, 20)}`).join('; ')
            """));

        Assert.Empty(errors);
        Assert.DoesNotContain(fetched, url => !url.StartsWith("file:", StringComparison.Ordinal)
            && !url.StartsWith("data:", StringComparison.Ordinal));
    }

    [Fact]
    public async Task It_holds_its_readings_and_stays_small()
    {
        var page = await File.ReadAllTextAsync(await _hostile.WriteAsync("page.html"), TestContext.Current.CancellationToken);

        var start = page.IndexOf("base64,", StringComparison.Ordinal) + 7;
        using var zipped = new System.IO.Compression.GZipStream(new MemoryStream(Convert.FromBase64String(page[start..page.IndexOf('"',
            start)])), System.IO.Compression.CompressionMode.Decompress);
        using var reader = new StreamReader(zipped);
        Assert.StartsWith(string.Join(',', ReadingRow.Names), await reader.ReadToEndAsync(TestContext.Current.CancellationToken),
            StringComparison.Ordinal);
        Assert.InRange(page.Length, 100_000, 3_000_000);
        var data = page[(page.IndexOf("id=\"charts\">", StringComparison.Ordinal) + 12)..];
        using var charts = JsonDocument.Parse(data[..data.IndexOf("</script>", StringComparison.Ordinal)]);
        Assert.NotEmpty(charts.RootElement.EnumerateArray());
    }

    // Where there is no browser nothing can be said, except where it is known to be there.
    private static async Task<IBrowser> LaunchAsync()
    {
        var found = Browsers.FirstOrDefault(File.Exists);
        Assert.SkipWhen(found is null
            && Environment.GetEnvironmentVariable("CI") is not "true", "there is no Chromium: apt-get install chromium");
        Assert.True(found is not null, "There is no Chromium: apt-get install chromium.");
        return await Puppeteer.LaunchAsync(new LaunchOptions
        {
            ExecutablePath = found, Headless = true, Timeout = Patience,
                Args = ["--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage"],
        });
    }

    private static Task<string> AskAsync(IPage page, string script) => page.EvaluateExpressionAsync<string>(script);

    private static Task<string> TextAsync(IPage page, string selector)
        => page.EvaluateExpressionAsync<string>($"document.querySelector('{selector}').textContent");
}
