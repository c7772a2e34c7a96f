using System.Runtime.InteropServices;

namespace Tachyscope.Lab.Commands;

/// <summary>The system's cache of files.</summary>
internal static class FileCache
{
    private const int DontNeed = 4;

    /// <summary>Pushes files out of it; those that a running program has mapped stay, and so does all on a system that is not
    /// Linux.</summary>
    public static void PushOut(IEnumerable<string> files)
    {
        foreach (var file in files.Where(_ => OperatingSystem.IsLinux()).Where(File.Exists))
        {
            try
            {
                using var handle = File.OpenHandle(file);
                // What was not written yet cannot be let go of.
                _ = fdatasync((int)handle.DangerousGetHandle());
                _ = posix_fadvise((int)handle.DangerousGetHandle(), 0, 0, DontNeed);
            }
            catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
            {
                // What cannot be read is not read from the cache either.
            }
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int fdatasync(int descriptor);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int posix_fadvise(int descriptor, long offset, long length, int advice);
}
