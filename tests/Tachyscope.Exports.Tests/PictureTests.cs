using System.Buffers.Binary;
using System.Xml.Linq;

namespace Tachyscope.Exports.Tests;

public sealed class PictureTests : IDisposable
{
    private readonly Hostile _hostile = new();

    public void Dispose() => _hostile.Dispose();

    [Theory]
    [InlineData("contrasts", 1)]
    [InlineData("growth", 1)]
    [InlineData("memory", 1)]
    [InlineData("readings", 3)]
    [InlineData("drift", 1)]
    public async Task Each_figure_is_drawn_in_both_forms_with_letters_in_it(string figure, int each)
    {
        var png = await WriteAllAsync($"a.{figure}.png");
        var svg = await WriteAllAsync($"a.{figure}.svg");

        Assert.Equal((2 * each, 2 * each), (png.Count, svg.Count));
        Assert.All(png, file =>
        {
            var bytes = File.ReadAllBytes(file);
            Assert.Equal([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A], bytes[..8]);
            Assert.Equal(1200, BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(16)));
            Assert.True(bytes.Length > 8_000, "there is hardly anything in it");
        });
        Assert.All(svg, file =>
        {
            var root = XDocument.Load(file).Root!;
            Assert.Equal("svg", root.Name.LocalName);
            Assert.True(root.Descendants().Count(part => part.Name.LocalName is "text" or "path") > 8);
        });
    }

    private async Task<IReadOnlyList<string>> WriteAllAsync(string name)
        => await ExportFile.WriteAsync(new Export(_hostile.Run, _hostile.Found), Path.Combine(_hostile.Folder, name),
            Storing.WholeFile.WriteAsync);
}
