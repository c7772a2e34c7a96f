using System.Buffers.Binary;
using Tachyscope.Protocol;

namespace Tachyscope.Lab.Workers;

/// <summary>The file in which a worker writes where it is; gone as soon as the worker has it, or with the tool's own handle.</summary>
internal sealed class WhereaboutsFile : IDisposable
{
    // In memory where there is such a place: a page on a disk is written back now and then, and its next store then waits.
    private const string InMemory = "/dev/shm";

    private readonly FileStream _file;

    private WhereaboutsFile(FileStream file) => _file = file;

    public string Path => _file.Name;

    /// <exception cref="IOException">There is no place for temporary files.</exception>
    /// <exception cref="UnauthorizedAccessException">That place cannot be written.</exception>
    public static WhereaboutsFile Create()
    {
        try
        {
            return In(InMemory);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return In(System.IO.Path.GetTempPath());
        }
    }

    /// <summary>Takes the file's name away; both sides have it open.</summary>
    public void Unlink()
    {
        if (!OperatingSystem.IsWindows())
        {
            File.Delete(Path);
        }
    }

    /// <summary>How often the worker has told where it is, and where; null when it never has.</summary>
    public (long Count, WorkerWhere? Where) Read()
    {
        Span<byte> page = stackalloc byte[WorkerMethods.WhereaboutsBytes];
        _ = RandomAccess.Read(_file.SafeFileHandle, page, 0);
        var count = BinaryPrimitives.ReadInt64LittleEndian(page);
        var place = (WorkerPlace)BinaryPrimitives.ReadInt64LittleEndian(page[8..]);
        return (count, count == 0 ? null : new WorkerWhere(place, (int)BinaryPrimitives.ReadInt64LittleEndian(page[16..])));
    }

    public void Dispose() => _file.Dispose();

    private static WhereaboutsFile In(string folder)
    {
        var file = new FileStream(System.IO.Path.Combine(folder, $"tachyscope-{Guid.NewGuid():N}"), new FileStreamOptions
        {
            Mode = FileMode.CreateNew,
            Access = FileAccess.ReadWrite,
            Share = FileShare.ReadWrite | FileShare.Delete,
            Options = FileOptions.DeleteOnClose,
            BufferSize = 0,
        });
        file.SetLength(WorkerMethods.WhereaboutsBytes);
        return new WhereaboutsFile(file);
    }
}
