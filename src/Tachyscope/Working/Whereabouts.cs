using System.IO.MemoryMappedFiles;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Tachyscope.Protocol;

namespace Tachyscope.Working;

/// <summary>
/// Where in the user's code the worker is, written where the tool can read it whatever becomes of this process: docs/protocol.md.
/// </summary>
/// <remarks>Three stores a batch of calls; without a file from the tool they go to memory that nobody reads.</remarks>
internal static unsafe class Whereabouts
{
    private static readonly long* s_page = Open();

    /// <summary>The user's code is about to be called.</summary>
    /// <param name="what">What of it.</param>
    /// <param name="index">Its index: of the input, of the cell of the sitting, or of the row.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static void Enter(WorkerPlace what, int index)
    {
        s_page[1] = (long)what;
        s_page[2] = index;
        Volatile.Write(ref s_page[0], s_page[0] + 1);
    }

    /// <summary>The user's code has returned.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static void Leave() => Enter(WorkerPlace.Own, 0);

    private static long* Open()
    {
        var path = Environment.GetEnvironmentVariable(WorkerMethods.WhereaboutsVariable);
        Environment.SetEnvironmentVariable(WorkerMethods.WhereaboutsVariable, null);
        if (path is { Length: > 0 })
        {
            try
            {
                // Kept open until the process ends.
                var view = MemoryMappedFile.CreateFromFile(path, FileMode.Open, null, WorkerMethods.WhereaboutsBytes)
                    .CreateViewAccessor(0, WorkerMethods.WhereaboutsBytes);
                byte* page = null;
                view.SafeMemoryMappedViewHandle.AcquirePointer(ref page);
                return (long*)page;
            }
            catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
            {
                // The tool then goes by its patience alone.
            }
        }

        return (long*)NativeMemory.AllocZeroed(WorkerMethods.WhereaboutsBytes);
    }
}
