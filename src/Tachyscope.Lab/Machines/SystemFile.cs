namespace Tachyscope.Lab.Machines;

/// <summary>Files in which the system tells of itself; any of them may be missing or closed to us.</summary>
internal static class SystemFile
{
    public static string? TryRead(string path)
    {
        try
        {
            return File.Exists(path) ? File.ReadAllText(path).TrimEnd() : null;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}
