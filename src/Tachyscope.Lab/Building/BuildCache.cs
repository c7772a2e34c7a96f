using System.Runtime.InteropServices;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Tachyscope.Lab.Storing;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Building;

/// <summary>Where builds are kept, under which names, and whether they can be.</summary>
public static class BuildCache
{
    // Another builder may make another build of the same recipe.
    private static readonly Guid Builder = typeof(BuildCache).Assembly.ManifestModule.ModuleVersionId;

    /// <summary>Environment variable that names the folder in which builds are kept.</summary>
    public const string Variable = "TACHYSCOPE_CACHE";

    /// <summary>Where builds are kept, unless <see cref="Variable"/> says where; empty where the system knows no such place.</summary>
    public static string DefaultFolder
    {
        get
        {
            if (Environment.GetEnvironmentVariable(Variable) is { Length: > 0 } chosen)
            {
                return chosen;
            }

            var local = Environment.GetFolderPath(
                Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.DoNotVerify);
            return local.Length == 0 ? "" : Path.Combine(local, "tachyscope");
        }
    }

    /// <summary>Looks whether builds and temporary files can be kept.</summary>
    /// <param name="cache">Folder of the builds.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string cache)
    {
        ArgumentNullException.ThrowIfNull(cache);
        if (cache.Length == 0)
        {
            return $"there is no home folder to keep builds in (HOME is not set); set it, or name a folder with {Variable}.";
        }

        var temporary = Path.GetTempPath();
        if (!Directory.Exists(temporary))
        {
            return $"the folder for temporary files, {temporary}, does not exist; make it, or set TMPDIR to one that does.";
        }

        if (Unwritable(cache) is { } reason)
        {
            return $"builds cannot be kept in {cache} ({reason}); name a folder that can be written with {Variable}.";
        }

        return Unwritable(temporary) is { } why
            ? $"nothing can be written to the folder for temporary files, {temporary} ({why}); set TMPDIR to one that can be written."
            : null;
    }

    /// <summary>A short name for what a text describes, the same for the same text.</summary>
    /// <param name="text">All that makes a difference.</param>
    public static string NameOf(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..12];

    private static string? Unwritable(string folder)
    {
        try
        {
            Directory.CreateDirectory(folder);
            var probe = Path.Combine(folder, $"probe-{Guid.NewGuid():N}");
            File.Create(probe).Dispose();
            File.Delete(probe);
            return null;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return exception.Message.TrimEnd('.');
        }
    }

    // One folder for every project and recipe, so that builds of two targets never meet.
    internal static string Key(string project, Target target)
    {
        var runtime = target.Framework is null ? target.Runtime : null;
        var recipe = target with { Name = "", Runtime = runtime, Switches = new Dictionary<string, string>() };
        // A cache that several machines share holds a build for each kind of them.
        var machine = $"{RuntimeInformation.RuntimeIdentifier} {ProcessorInstructions.Own}";
        var all = string.Join('\n', project, Builder, machine, JsonSerializer.Serialize(recipe, KeptJson.Default.Target));
        return $"{Path.GetFileNameWithoutExtension(project)}-{NameOf(all)}";
    }
}
