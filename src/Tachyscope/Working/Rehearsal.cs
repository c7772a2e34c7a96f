using Tachyscope.Measuring;
using Tachyscope.Protocol;
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
        var sitting = new Sitting(cells);
        var warm = new WarmRequest { Cells = [0, 1], QuietMilliseconds = 2, CapMilliseconds = 5, LeastCalls = 1, ReadingNanoseconds = 100 };
        Answer(warm, sitting.Warm);
        cells[1].MarksStages = true;
        Watch();
        var read = new ReadRequest { Metronome = 0, Rounds = [new() { Round = 0, Cells = [1] }, new() { Round = 1, Cells = [1] }] };
        for (var repeat = 0; repeat < Repeats; repeat++)
        {
            Answer(read, sitting.Read);
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

    // As a request comes in and its reply goes out.
    private static void Answer<TRequest, TReply>(TRequest request, Func<TRequest, TReply> answer)
    {
        var line = ProtocolText.ToLine(new RpcRequest { Id = 1, Method = WorkerMethods.Read, Parameters = ProtocolText.ToElement(request) });
        var received = ProtocolText.FromLine<RpcRequest>(System.Text.Encoding.UTF8.GetString(line));
        var reply = answer(ProtocolText.FromElement<TRequest>(received.Parameters));
        ProtocolText.ToLine(new RpcReply { Id = 1, Result = ProtocolText.ToElement(reply) });
    }
}
