using System.Diagnostics;
using Tachyscope.Measuring;
using Tachyscope.Protocol;

namespace Tachyscope.Working;

/// <summary>Sets up the cells of a sitting: those of the study as it is, then those of its copies, as far as they cost little.</summary>
internal static class OpenedCells
{
    // What the inputs of all further copies may take together, in time and in memory.
    private const double MostMilliseconds = 300;
    private const double MostBytes = 128e6;

    public static (IReadOnlyList<MeasuredCell> Cells, OpenReply Reply) Of(Study study, OpenRequest request)
    {
        var opened = request.Cells.Select((cell, index) => MeasuredCell.Absent(cell, index)).ToArray();
        var (started, inUse) = (Stopwatch.GetTimestamp(), GC.GetTotalMemory(false));
        Open(study, 0, request, opened);
        var milliseconds = Math.Max(0.01, Stopwatch.GetElapsedTime(started).TotalMilliseconds);
        var bytes = Math.Max(1.0, GC.GetTotalMemory(false) - inUse);
        var wanted = request.Cells.Max(cell => cell.Copy) + 1;
        var affordable = 1 + (int)Math.Min(wanted - 1, Math.Min(MostMilliseconds / milliseconds, MostBytes / bytes));
        var problem = affordable < wanted ? $"making its inputs for each takes {milliseconds:0} ms and {bytes / 1e6:0} MB" : null;
        var copies = 1;
        for (; copies < affordable; copies++)
        {
            var (copy, refused) = CodeCopies.Load(study.Description, copies);
            if (copy is null)
            {
                problem = refused;
                break;
            }

            Open(copy, copies, request, opened);
        }

        return (opened, new OpenReply { Cells = request.Cells.Count, Copies = copies, CopiesProblem = copies < wanted ? problem : null });
    }

    private static void Open(Study study, int copy, OpenRequest request, MeasuredCell[] opened)
    {
        int[] own = [.. Enumerable.Range(0, opened.Length).Where(index => request.Cells[index].Copy == copy)];
        var cells = study.Body.Open([.. own.Select(index => request.Cells[index])], request.Seed, request.Shuffle, own);
        for (var i = 0; i < own.Length; i++)
        {
            opened[own[i]] = cells[i];
            cells[i].WriteLoop();
        }
    }
}
