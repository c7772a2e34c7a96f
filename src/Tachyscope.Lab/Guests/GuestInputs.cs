using System.Text;
using System.Text.Json;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>A study's inputs as its guests take them, kept as long as the study is measured; large ones in files.</summary>
internal sealed class GuestInputs(StudyDescription study) : IDisposable
{
    private const int LongestByValue = 64 * 1024;

    private readonly Dictionary<(string Variant, int Input), GivenInput> _inputs = [];
    private readonly List<string> _files = [];

    /// <summary>Whether an input is there for a row; the builds of one guest take the same.</summary>
    public bool Has(int row, int input) => _inputs.ContainsKey((study.Variants[row].Variant, input));

    /// <summary>The inputs of a row's guest that are there.</summary>
    public IReadOnlyList<GivenInput> Of(int row)
        => [.. _inputs.Where(kept => kept.Key.Variant == study.Variants[row].Variant).Select(kept => kept.Value)];

    /// <summary>Keeps an input.</summary>
    /// <exception cref="IOException">There is no room for a file.</exception>
    public void Keep(int row, int input, JsonElement value)
    {
        var text = value.GetRawText();
        var key = (study.Variants[row].Variant, input);
        if (text.Length <= LongestByValue)
        {
            _inputs[key] = new GivenInput { Input = input, Value = value };
            return;
        }

        var path = Path.Combine(Path.GetTempPath(), $"tachyscope-input-{Guid.NewGuid():N}.json");
        _files.Add(path);
        File.WriteAllText(path, text, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false));
        _inputs[key] = new GivenInput { Input = input, File = path };
    }

    public void Dispose()
    {
        foreach (var file in _files)
        {
            File.Delete(file);
        }
    }
}
