using System.Diagnostics;
using System.Globalization;

namespace Tachyscope.Lab.Building;

/// <summary>The folder of one build: written by one run at a time, used by any number, and left alone meanwhile.</summary>
internal sealed class BuildFolder : IDisposable
{
    private const string LockName = "build.lock";
    private const string LeaseName = "use.lock";
    private const int MostBuilds = 48;
    private const long MostBytes = 8L << 30;

    // What the system says of a file that somebody else holds: on Linux, on macOS, on Windows (sharing, locking).
    private static readonly int[] Held = [11, 35, unchecked((int)0x80070020), unchecked((int)0x80070021)];
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
    /// <exception cref="IOException">Another run held it for ten minutes, or it cannot be made.</exception>
    /// <exception cref="UnauthorizedAccessException">It may not be written.</exception>
    public static async Task<BuildFolder> TakeAsync(string path, CancellationToken cancellation)
    {
        var begin = Stopwatch.GetTimestamp();
        while (true)
        {
            Directory.CreateDirectory(path);
            if (TryHold(System.IO.Path.Combine(path, LockName), FileAccess.ReadWrite, FileShare.None) is { } held)
            {
                // When it was last written tells when the build was last used.
                held.SetLength(0);
                held.WriteByte((byte)'\n');
                held.Flush();
                return new BuildFolder(path, held);
            }

            if (Stopwatch.GetElapsedTime(begin) > LongestWait)
            {
                throw new IOException($"another run has been building in {path} for {LongestWait.TotalMinutes} minutes; end it, or "
                    + "delete that folder.");
            }

            await Task.Delay(BetweenLooks, cancellation);
        }
    }

    /// <summary>Takes the folder of a build that is fresh, or else one that nobody uses.</summary>
    /// <param name="path">Path of the folder; others beside it are numbered.</param>
    /// <param name="isFresh">Whether a folder holds what is wanted.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<(BuildFolder Folder, bool IsFresh)> TakeAsync(
        string path, Func<string, bool> isFresh, CancellationToken cancellation)
    {
        BuildFolder? unused = null;
        for (var number = 1; ; number++)
        {
            var place = number == 1 ? path : string.Create(CultureInfo.InvariantCulture, $"{path}-{number}");
            if (unused is not null && !Directory.Exists(place))
            {
                return (unused, false);
            }

            var folder = await TakeAsync(place, cancellation);
            if (isFresh(folder.Path))
            {
                unused?.Dispose();
                return (folder, true);
            }

            using var alone = unused is null ? folder.TryLease(FileShare.None) : null;
            if (alone is not null)
            {
                unused = folder;
            }
            else
            {
                folder.Dispose();
            }
        }
    }

    /// <summary>Keeps what the folder holds as it is until the lease is disposed.</summary>
    public IDisposable Lease() => TryLease(FileShare.Read) ?? throw new IOException($"{Path} is being written by another run.");

    /// <summary>Deletes builds not used for longest until the rest are few and small enough; never one that a run uses.</summary>
    /// <param name="builds">Folder of all builds.</param>
    public static void Prune(string builds)
    {
        var (count, bytes) = (0, 0L);
        foreach (var folder in new DirectoryInfo(builds).EnumerateDirectories().OrderByDescending(LastUse).ToList())
        {
            try
            {
                count++;
                bytes += folder.EnumerateFiles("*", SearchOption.AllDirectories).Sum(file => file.Length);
                if (count > MostBuilds || bytes > MostBytes)
                {
                    Delete(folder);
                }
            }
            catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
            {
                // Another run is at it, or it is another user's: it stays.
            }
        }
    }

    public void Dispose() => _lock.Dispose();

    private static void Delete(DirectoryInfo folder)
    {
        using var written = TryHold(System.IO.Path.Combine(folder.FullName, LockName), FileAccess.ReadWrite, FileShare.None);
        using var used = TryHold(System.IO.Path.Combine(folder.FullName, LeaseName), FileAccess.Read, FileShare.None);
        if (written is not null && used is not null)
        {
            folder.Delete(recursive: true);
        }
    }

    private static DateTime LastUse(DirectoryInfo folder) => File.GetLastWriteTimeUtc(System.IO.Path.Combine(folder.FullName, LockName));

    private FileStream? TryLease(FileShare share) => TryHold(System.IO.Path.Combine(Path, LeaseName), FileAccess.Read, share);

    private static FileStream? TryHold(string path, FileAccess access, FileShare share)
    {
        try
        {
            return new FileStream(path, FileMode.OpenOrCreate, access, share);
        }
        catch (IOException exception) when (Held.Contains(exception.HResult))
        {
            return null;
        }
    }
}
