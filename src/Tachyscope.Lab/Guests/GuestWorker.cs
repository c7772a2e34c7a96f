using System.Diagnostics.CodeAnalysis;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>
/// A guest's worker as the rest of the tool knows workers: what a kit is spared is done here. It is held to processors from outside, and
/// asked to go on warming until its cells stand still.
/// </summary>
internal sealed class GuestWorker(WorkerProcess process) : IWorker
{
    // So long is one request to warm: short enough to look often, long enough for the look not to count.
    private const int StretchMilliseconds = 40;

    // The one that calls, and the processor it is held to.
    private int? _thread;
    private int? _held;

    public IReadOnlyList<string> LastLines => process.LastLines;

    public IReadOnlyList<string> LeftBehind => process.LeftBehind;

    public async Task<TReply> AskAsync<TRequest, TReply>(string method, TRequest request, Patience patience, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
        => request switch
        {
            WarmRequest warm => (TReply)(object)await WarmAsync(warm, patience, cancellation),
            ReadRequest read => (TReply)(object)await ReadAsync(read, patience, cancellation),
            _ => await process.AskAsync<TRequest, TReply>(method, request, patience, cancellation),
        };

    public ValueTask DisposeAsync() => process.DisposeAsync();

    private async Task<WarmReply> WarmAsync(WarmRequest asked, Patience patience, CancellationToken cancellation)
    {
        var (warmth, gauges, failures) = (new GuestWarmth(), new List<int>(), new List<CellError>());
        WarmReply reply;
        do
        {
            var request = asked with { QuietMilliseconds = StretchMilliseconds };
            reply = await process.AskAsync<WarmRequest, WarmReply>(WorkerMethods.Warm, request, patience, cancellation);
            // A reader of JSON leaves null where a member is missing, whatever the type says.
            Check(reply.Cells?.All(cell => cell.CallsPerReading > 0) == true && reply.Slices is not null, WorkerMethods.Warm);
            warmth.Add(reply);
            gauges.AddRange(reply.Gauges ?? []);
            failures.AddRange(reply.Failures ?? []);
        }
        while (!warmth.AreAllSettled(asked.LeastCalls, reply.ElapsedMilliseconds) && reply.ElapsedMilliseconds < asked.CapMilliseconds);
        await OutsideGauge.Shared.LearnAsync();
        var (low, isSharp) = gauges.Count == 0 ? OutsideGauge.Shared.Low : TurnGauge.LowOf(gauges);
        return reply with
        {
            Cells = [.. reply.Cells!.Select(warmth.Of)], Slices = [], Gauges = [], Failures = failures, LowGauge = low,
                IsLowGaugeSharp = isSharp,
        };
    }

    // One round a request, since each is held to a processor of its own: one whose core is nobody else's, where there is one.
    private async Task<ReadReply> ReadAsync(ReadRequest asked, Patience patience, CancellationToken cancellation)
    {
        var replies = new List<ReadReply>();
        foreach (var round in asked.Rounds)
        {
            var (processor, before) = round.Processor is { } first && asked.QuietGauge > 0
                ? await OutsideGauge.Shared.SeekAsync(asked.Processors ?? [], first)
                : (round.Processor, 0);
            if (processor != _held)
            {
                _thread ??= ThreadAffinity.BusiestOf(process.Id);
                _held = processor is { } wanted && ThreadAffinity.TryHold(_thread.Value, wanted) ? wanted : null;
            }

            var isPinned = _held is not null;
            var request = asked with { Rounds = [round] };
            var reply = await process.AskAsync<ReadRequest, ReadReply>(WorkerMethods.Read, request, patience, cancellation);
            Check(reply.Readings?.All(reading => IsAsked(reading, round, asked.Metronome)) == true, WorkerMethods.Read);
            var own = reply.Gauges ?? [];
            if (before > 0)
            {
                var after = await OutsideGauge.Shared.AfterAsync(reply.Readings.Sum(reading => (double)reading.ElapsedNanoseconds));
                own = own.Count > 0 ? own : [.. Gauges(reply.Readings, asked.Metronome, before, after)];
            }

            replies.Add(reply with
            {
                IsPinned = isPinned || reply.IsPinned,
                Gauges = [.. own.Select(gauge => isPinned ? gauge with { Processor = processor!.Value } : gauge)],
            });
        }

        return new ReadReply
        {
            Readings = [.. replies.SelectMany(reply => reply.Readings)],
            Gauges = [.. replies.SelectMany(reply => reply.Gauges)],
            Failures = [.. replies.SelectMany(reply => reply.Failures ?? [])],
            IsPinned = replies.TrueForAll(reply => reply.IsPinned),
        };
    }

    // Of a language without a gauge all that is known is how the core was before and after its turns.
    private static IEnumerable<TurnGauge> Gauges(IReadOnlyList<Reading> readings, int metronome, int before, int after)
        => readings.Where(reading => reading.Cell != metronome).GroupBy(reading => (reading.Round, reading.Place)).Select(turn
            => new TurnGauge
        {
            Round = turn.Key.Round, Place = turn.Key.Place, Processor = -1,
            Gauges = [.. turn.SelectMany(_ => (int[])[before, after])],
        });

    private static bool IsAsked(in Reading reading, RoundOrder round, int metronome)
        => reading.Round == round.Round && (reading.Cell == metronome || round.Cells.Contains(reading.Cell))
            && reading.ElapsedNanoseconds >= 0;

    private void Check([DoesNotReturnIf(false)] bool isSound, string method)
    {
        if (!isSound)
        {
            throw new WorkerException(
                WorkerTrouble.Refused, $"answered \"{method}\" with something else than was asked; tachyscope guest check says more",
                LastLines);
        }
    }
}
