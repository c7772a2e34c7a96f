using System.Globalization;
using System.Runtime.InteropServices;

namespace Tachyscope.Lab.Processes;

/// <summary>The processes that a worker started and that belong to the group it leads.</summary>
internal static class ProcessGroup
{
    private const int Kill = 9;

    /// <summary>Ends what is left of a group whose leader has ended, and names it.</summary>
    /// <param name="leader">Process id of the worker that led it.</param>
    public static IReadOnlyList<string> EndRest(int leader)
    {
        // Signal 0 only asks whether there is anybody.
        if (OperatingSystem.IsWindows() || kill(-leader, 0) != 0)
        {
            return [];
        }

        var names = Names(leader);
        _ = kill(-leader, Kill);
        return names;
    }

    private static List<string> Names(int group)
    {
        try
        {
            var members = Directory.EnumerateDirectories("/proc").Where(folder => int.TryParse(Path.GetFileName(folder), out _))
                .Select(folder => Member(folder, group)).OfType<string>().ToList();
            return members.Count > 0 ? members : ["unnamed"];
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return ["unnamed"];
        }
    }

    // "PID (NAME) STATE PARENT GROUP …": the name may hold anything.
    private static string? Member(string folder, int group)
    {
        try
        {
            var text = File.ReadAllText(Path.Combine(folder, "stat"));
            var (from, to) = (text.IndexOf('(', StringComparison.Ordinal), text.LastIndexOf(')'));
            var rest = text[(to + 2)..].Split(' ');
            return rest[2] == group.ToString(CultureInfo.InvariantCulture) && rest[0] != "Z" ? text[(from + 1)..to] : null;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            // It has just ended.
            return null;
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int kill(int process, int signal);
}
