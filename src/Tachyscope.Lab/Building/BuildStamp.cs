using System.Text.Json;
using Tachyscope.Lab.Storing;
using Tachyscope.Storing;

namespace Tachyscope.Lab.Building;

/// <summary>
/// What a finished build was made of, and what came of it; left beside it, so that it is used again until something changes.
/// </summary>
internal sealed record BuildStamp
{
    private const string FileName = "stamp.json";

    /// <summary>All that went in.</summary>
    public required IReadOnlyList<BuildInput> Inputs { get; init; }

    /// <summary>What came of it.</summary>
    public required BuildOutcome Outcome { get; init; }

    /// <summary>The stamp of a build; null when there is none that can be read.</summary>
    public static BuildStamp? Read(string artifacts)
    {
        try
        {
            return JsonSerializer.Deserialize(File.ReadAllText(Path.Combine(artifacts, FileName)), KeptJson.Default.BuildStamp);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or JsonException)
        {
            return null;
        }
    }

    public void Write(string artifacts) => WholeFile.Write(
        Path.Combine(artifacts, FileName), stream => JsonSerializer.Serialize(stream, this, KeptJson.Default.BuildStamp));

    /// <summary>Whether everything is as it was when it was built.</summary>
    public bool IsFresh(string project, string artifacts)
        => Outcome.Assembly is { } assembly && File.Exists(assembly)
            && BuildInputs.Find(project, artifacts, Inputs).Select(input => (input.Path, input.Hash))
                .SequenceEqual(Inputs.Select(input => (input.Path, input.Hash)));
}
