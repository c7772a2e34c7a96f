namespace Tachyscope.Mishaps;

/// <summary>What is in the measured process that should not be.</summary>
internal static class Surroundings
{
    private static readonly string[] Ours = ["Tachyscope", "Tachyscope.Mishaps"];

    /// <summary>An assembly of ours other than the lean library, or a second thread of ours; null when there is none.</summary>
    public static string? Stranger()
    {
        var assembly = AppDomain.CurrentDomain.GetAssemblies().Select(loaded => loaded.GetName().Name!)
            .FirstOrDefault(name => name.StartsWith("Tachyscope", StringComparison.Ordinal) && !Ours.Contains(name));
        if (assembly is not null || !OperatingSystem.IsLinux())
        {
            return assembly;
        }

        var threads = Directory.GetDirectories("/proc/self/task").Select(task => File.ReadAllText($"{task}/comm").Trim()).ToList();
        // The Main of a copy of the code stands still where it handed over.
        return threads.Count(name => name.StartsWith("Tachyscope", StringComparison.Ordinal) && name != "Tachyscope copy") == 1
            && threads.TrueForAll(name => !name.StartsWith(".NET TP", StringComparison.Ordinal))
            ? null
            : string.Join(", ", threads);
    }
}
