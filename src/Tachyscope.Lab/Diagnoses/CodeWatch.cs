using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Diagnoses;

/// <summary>
/// Has the runtime list the code it makes of a study, in a process of its own that goes the way of a measured one up to its first
/// reading, and takes none. It is held to one processor: threads that compile at once write into each other's lines.
/// </summary>
/// <param name="plan">Seed and patience.</param>
public sealed class CodeWatch(RunPlan plan)
{
    // On a busy machine the one processor is far from enough for all that is written of what is compiled; it is the cap, and seldom met.
    private const int WarmCapMilliseconds = 15_000;
    private const int LongerCap = 2;

    // All is compiled when nothing was for so long: on that processor the runtime's own thread waits for its turn, beside much else longer.
    private const int QuietMilliseconds = 250;
    private const int LongerQuiet = 4;
    private const int MostLonger = 2;
    private const int LatePortions = 3;
    private static readonly TimeSpan s_late = TimeSpan.FromMilliseconds(120);

    // All that is compiled: what a variant calls is not known before, and writing it takes a tenth of a second.
    private static readonly Dictionary<string, string> s_listing = new(StringComparer.Ordinal)
    {
        ["JitDisasm"] = "*", ["JitDisasmWithCodeBytes"] = "1",
    };

    private readonly Patience _patience = new(plan);

    /// <summary>Watches a study being warmed on a target.</summary>
    /// <param name="target">The target, made ready.</param>
    /// <param name="choose">Chooses one of its studies, or none.</param>
    /// <param name="look">How often it was watched before without all of it being compiled: it is waited longer for, up to the second
    /// time.</param>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>What was told; null when no study was chosen.</returns>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="look"/> is negative.</exception>
    /// <exception cref="WorkerException">The worker could not be asked, or ended.</exception>
    public async Task<CodeCapture?> WatchAsync(PreparedTarget target, Func<IReadOnlyList<StudyDescription>, StudyDescription?> choose,
        int look, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(target);
        ArgumentNullException.ThrowIfNull(choose);
        ArgumentOutOfRangeException.ThrowIfNegative(look);
        var folder = Directory.CreateTempSubdirectory("tachyscope-code-");
        try
        {
            var file = Path.Combine(folder.FullName, "listing.txt");
            var starter = target.Starter is WorkerStarter plain
                ? plain.With(new Dictionary<string, string>(s_listing) { ["JitStdOutFile"] = file }, isHeldToOneProcessor: true)
                    : target.Starter!;
            var capture = await WarmAsync(starter, choose, look, cancellation);
            return capture is null ? null : capture with
            {
                Program = (target.Starter as WorkerStarter)?.Program,
                Listings = File.Exists(file) ? await File.ReadAllTextAsync(file, cancellation) : "",
            };
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private async Task<CodeCapture?> WarmAsync(
        IWorkerStarter starter, Func<IReadOnlyList<StudyDescription>, StudyDescription?> choose, int look, CancellationToken cancellation)
    {
        var (worker, hello) = await starter.StartReadyAsync(_patience, cancellation);
        // The runtime's last lines are there when the process has ended.
        await using var disposal = worker;
        var studies = (await worker.AskAsync<Empty, StudiesReply>(WorkerMethods.Studies, Empty.Instance, _patience, cancellation)).Studies;
        if (choose(studies) is not { } study)
        {
            return null;
        }

        await HearAsync(worker, cancellation);
        CellDescription[] cells =
        [
            .. from input in Enumerable.Range(0, study.Inputs.Count)
               from variant in Enumerable.Range(0, study.Variants.Count)
               where study.Variants[variant].Guest is null
               select new CellDescription { Kind = CellKind.Variant, Variant = variant, Input = input,
                   Loop = study.Variants[variant].Loop },
        ];
        if (cells.Length == 0)
        {
            return new CodeCapture { Study = study, Cells = cells, Listings = "", Inlinings = [], Environment = hello.Environment,
                Failures = [] };
        }

        var open = new OpenRequest { Study = study.Name, Seed = plan.Seed, Shuffle = plan.Seed, Cells = cells };
        await worker.AskAsync<OpenRequest, OpenReply>(WorkerMethods.Open, open, _patience, cancellation);
        var longer = Math.Min(look, MostLonger);
        var request = new WarmRequest
        {
            Cells = [.. Enumerable.Range(0, cells.Length)],
            QuietMilliseconds = (int)(QuietMilliseconds * Math.Pow(LongerQuiet, longer)),
            CapMilliseconds = (int)(WarmCapMilliseconds * Math.Pow(LongerCap, longer)),
        };
        var warmed = await worker.AskAsync<WarmRequest, WarmReply>(WorkerMethods.Warm, request, _patience, cancellation);
        return new CodeCapture
        {
            Study = study, Cells = cells, Listings = "", Inlinings = await HearOutAsync(worker, cancellation),
                Environment = hello.Environment,
            Failures = warmed.Failures,
        };
    }

    // What the compiler decides comes in portions, and a while later.
    private async Task<IReadOnlyList<InliningDecision>> HearOutAsync(IWorker worker, CancellationToken cancellation)
    {
        List<InliningDecision> heard = [.. await HearAsync(worker, cancellation)];
        for (var portion = 0; portion < LatePortions && heard.Count > 0; portion++)
        {
            await Task.Delay(s_late, cancellation);
            heard.AddRange(await HearAsync(worker, cancellation));
        }

        return heard;
    }

    // An older library does not know how.
    private async Task<IReadOnlyList<InliningDecision>> HearAsync(IWorker worker, CancellationToken cancellation)
    {
        try
        {
            return (await worker.AskAsync<Empty, HearReply>(WorkerMethods.Hear, Empty.Instance, _patience, cancellation)).Inlinings;
        }
        catch (WorkerException exception) when (exception.Trouble == WorkerTrouble.Refused)
        {
            return [];
        }
    }
}
