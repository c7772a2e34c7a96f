using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>
/// Goes through warming, reading and answering with a cell that does nothing, before the real ones: what the runtime has
/// to compile of this library it then compiles while operations are warmed, not while they are read.
/// </summary>
internal static class Rehearsal
{
    // As many calls as make the runtime optimise a method.
    private const int Repeats = 40;

    private static bool s_isDone;

    /// <summary>A request to warm, as it comes in.</summary>
    public static ReadOnlySpan<byte> WarmLine => """
        {"jsonrpc":"2.0","id":1,"method":"warm","params":
          {"cells":[0,1],"quietMilliseconds":2,"capMilliseconds":5,"leastCalls":1,"readingNanoseconds":100}}
        """u8;

    /// <summary>A request to read, as it comes in.</summary>
    public static ReadOnlySpan<byte> ReadLine => """
        {"jsonrpc":"2.0","id":1,"method":"read","params":{"metronome":0,"rounds":[{"round":0,"cells":[1]},{"round":1,"cells":[1]}]}}
        """u8;

    public static void Hold()
    {
        if (s_isDone)
        {
            return;
        }

        s_isDone = true;
        MeasuredCell[] cells =
        [
            MeasuredCell.OfMetronome(new CellDescription { Kind = CellKind.Metronome }, index: 0),
            new MeasuredCell(new CellDescription { Kind = CellKind.Variant }, static _ => { }) { MarksStages = true },
        ];
        // As requests come in and replies go out.
        var worker = new Worker(new Sitting(cells));
        worker.Answer(WarmLine);
        cells[1].MarksStages = true;
        Watch();
        for (var repeat = 0; repeat < Repeats; repeat++)
        {
            worker.Answer(ReadLine);
        }
    }

    private static void Watch()
    {
        var watch = new WarmUpWatch();
        for (var slice = 0; slice < 400; slice++)
        {
            watch.Add(slice, 1, 1 + (slice % 7), 1, 0);
            if (slice % 10 == 0)
            {
                watch.IsSteady();
            }
        }
    }
}
