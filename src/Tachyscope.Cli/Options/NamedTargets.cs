using Tachyscope.Lab.Targets;

namespace Tachyscope.Cli.Options;

/// <summary>Targets that the tachyscope.json beside a project names.</summary>
internal static class NamedTargets
{
    /// <summary>Its recipes by name, or what is wrong with it.</summary>
    public static (IReadOnlyDictionary<string, string> Recipes, string? Mistake) Of(string project)
    {
        try
        {
            return (TargetFile.Read(Directory.Exists(project) ? project : Path.GetDirectoryName(Path.GetFullPath(project)) ?? "."), null);
        }
        catch (InvalidDataException exception)
        {
            return (new Dictionary<string, string>(), exception.Message);
        }
    }
}
