using System.Diagnostics;

namespace Tachyscope.Lab.Building;

/// <summary>The folder of one build, held by one run at a time.</summary>
internal sealed class BuildFolder : IDisposable
{
    private const string LockName = "build.lock";
    private const int MostBuilds = 48;
    private const long MostBytes = 8L << 30;
    private static readonly TimeSpan BetweenLooks = TimeSpan.FromMilliseconds(100);
    private static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(10);

    private readonly FileStream _lock;

    private BuildFolder(string path, FileStream held)
    {
        Path = path;
        _lock = held;
    }

    public string Path { get; }

    /// <summary>When it was taken, in ticks of universal time, by the clock of the files.</summary>
    public long TakenTicks => File.GetLastWriteTimeUtc(_lock.Name).Ticks;

    /// <summary>Takes the folder, and waits while another run builds in it.</summary>
    /// <exception cref="IOException">Another run held it for ten minutes.</exception>
    public static async Task<BuildFolder> TakeAsync(string path, CancellationToken cancellation)
    {
        var begin = Stopwatch.GetTimestamp();
        while (true)
        {
            Directory.CreateDirectory(path);
            if (TryLock(path) is { } held)
            {
                // When it was last written tells when the build was last used.
                held.SetLength(0);
                held.WriteByte((byte)'\n');
                held.Flush();
                return new BuildFolder(path, held);
            }

            if (Stopwatch.GetElapsedTime(begin) > LongestWait)
            {
                throw new IOException($"another run has been building in {path} for {LongestWait.TotalMinutes} minutes; end it, or delete that folder.");
            }

            await Task.Delay(BetweenLooks, cancellation);
        }
    }

    /// <summary>Deletes the builds that were not used for longest, until the rest are few and small enough.</summary>
    /// <param name="builds">Folder of all builds.</param>
    public static void Prune(string builds)
    {
        var (count, bytes) = (0, 0L);
        foreach (var folder in new DirectoryInfo(builds).EnumerateDirectories().OrderByDescending(folder => File.GetLastWriteTimeUtc(System.IO.Path.Combine(folder.FullName, LockName))).ToList())
        {
            count++;
            bytes += folder.EnumerateFiles("*", SearchOption.AllDirectories).Sum(file => file.Length);
            if ((count > MostBuilds || bytes > MostBytes) && TryLock(folder.FullName) is { } held)
            {
                held.Dispose();
                folder.Delete(recursive: true);
            }
        }
    }

    public void Dispose() => _lock.Dispose();

    private static FileStream? TryLock(string path)
    {
        try
        {
            return new FileStream(System.IO.Path.Combine(path, LockName), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}
