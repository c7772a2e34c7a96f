using System.Diagnostics;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>Builds the guests of studies and asks each who it is.</summary>
internal static class GuestMeeting
{
    private const string Dotnet = "dotnet";

    /// <param name="maker">Builds them.</param>
    /// <param name="studies">The studies whose guests are meant.</param>
    /// <param name="patience">How long they may take to answer.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<IReadOnlyList<MetGuest>> MeetAsync(
        IGuestMaker maker, IEnumerable<StudyDescription> studies, Patience patience, CancellationToken cancellation)
    {
        var met = new List<MetGuest>();
        foreach (var study in studies)
        {
            foreach (var row in study.Variants.Where(row => row.Guest is not null))
            {
                met.Add(await MeetAsync(maker, new MetGuest(study.Name, row), patience, cancellation));
            }
        }

        return met;
    }

    /// <summary>A study with its guests' rows as they were met.</summary>
    public static StudyDescription Told(StudyDescription study, IReadOnlyList<MetGuest> met)
        => study with
        {
            Variants = [.. study.Variants.Select(row => row.Guest is null ? row
                : met.FirstOrDefault(guest => guest.Study == study.Name && guest.Row.Name == row.Name)?.Row ?? row)],
        };

    private static async Task<MetGuest> MeetAsync(IGuestMaker maker, MetGuest guest, Patience patience, CancellationToken cancellation)
    {
        var begun = Stopwatch.GetTimestamp();
        var prepared = await maker.MakeAsync(guest.Row.Guest!, cancellation);
        patience.LeaveOut(Stopwatch.GetElapsedTime(begun));
        guest = guest with { Row = guest.Row with { Guest = prepared.Guest } };
        if (prepared.Starter is not { } starter)
        {
            return guest with { Problem = prepared.Problem, LastLines = prepared.LastLines ?? [] };
        }

        try
        {
            var (worker, hello) = await starter.StartReadyAsync(patience, cancellation);
            await using (worker)
            {
                if (hello.Protocol != WorkerMethods.ProtocolVersion)
                {
                    return guest with
                    {
                        Problem = $"speaks version {hello.Protocol} of the protocol, this tool version {WorkerMethods.ProtocolVersion}; "
                            + "build it with the kit that comes with the tool",
                    };
                }

                var reply = await worker.AskAsync<Empty, StudiesReply>(WorkerMethods.Studies, Empty.Instance, patience, cancellation);
                var studies = (reply.Studies ?? []).ToList();
                var own = studies.FindAll(study => study.Name == guest.Study);
                return Told(guest, hello,
                    [.. (own.Count > 0 ? own : studies).SelectMany(study => study.Variants ?? [])]) with { Starter = starter };
            }
        }
        catch (WorkerException exception)
        {
            return guest with { Problem = exception.Message, LastLines = exception.LastLines };
        }
    }

    private static MetGuest Told(MetGuest guest, HelloReply hello, List<VariantDescription> operations)
    {
        var asked = guest.Row.Guest!;
        var index = asked.Operation is null ? 0 : operations.FindIndex(operation => operation.Name == asked.Operation);
        if (index < 0 || index >= operations.Count)
        {
            var names = operations.Count == 0 ? "it has none"
                : $"it has {string.Join(", ", operations.Select(operation => operation.Name))}";
            return guest with { Problem = asked.Operation is null ? "it has no operation"
                : $"it has no operation {asked.Operation}; {names}" };
        }

        return guest with
        {
            Operation = index,
            Reference = Math.Max(0, operations.FindIndex(operation => operation.IsBaseline)),
            IsOurs = hello.Kit == Dotnet,
            Environment = hello.Environment,
            Row = guest.Row with
            {
                Loop = operations[index].Loop ?? new LoopShape(),
                Guest = asked with { Operation = operations[index].Name, Version = asked.IsWhole ? null : asked.Version
                    ?? hello.Environment.Runtime, IsAllocationTold = hello.IsAllocationTold },
            },
        };
    }
}
