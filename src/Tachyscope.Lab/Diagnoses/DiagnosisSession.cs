using System.Runtime.CompilerServices;
using Tachyscope.Lab.Sittings;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Diagnoses;

/// <summary>Looks at the cells of a study one by one, each in fresh workers, once its readings are taken.</summary>
internal sealed class DiagnosisSession(
    IWorkerStarter starter,
    StudyDescription study,
    RunPlan plan,
    IReadOnlyList<SittingRecord> sittings,
    IReadOnlyList<StudyPlace> places,
    Patience patience)
{
    // First calls differ from process to process; their median over a few is what can be told.
    private const int FirstCalls = 5;
    private const double SecondsPerStart = 0.3;
    private const double SecondsPerTypes = 2;
    private const double SecondsPerCode = 2.5;
    private const double SecondsPerCounters = 1.8;

    /// <summary>About how long it takes to look at all cells of a study as asked, in seconds.</summary>
    public static double EstimatedSeconds(StudyDescription study, RunPlan plan, int targets)
    {
        var perCell = (plan.Diagnoses.Contains(DiagnosisKind.FirstCall) ? FirstCalls * SecondsPerStart : 0)
            + (plan.Diagnoses.Contains(DiagnosisKind.Types) ? SecondsPerTypes : 0)
            + (plan.Diagnoses.Contains(DiagnosisKind.Code) ? SecondsPerCode : 0)
            + (plan.Diagnoses.Contains(DiagnosisKind.Counters) ? SecondsPerCounters : 0);
        var prepared = study.Variants.Count(row => row.Part == VariantPart.Prepare);
        return targets * study.Inputs.Count * ((study.Variants.Count * perCell) + (prepared * SecondsPerStart));
    }

    /// <summary>Cells that were not looked at in full because the time was over.</summary>
    public int Missed { get; private set; }

    /// <summary>Why the processor's counters could not be read; null when they could, or were not asked for.</summary>
    public string? CountersAbsence { get; private set; }

    public async IAsyncEnumerable<CellDiagnosis> RunAsync(
        IEnumerable<(int Variant, int Input, int Target)> cells,
        Func<bool> isTimeOver,
        [EnumeratorCancellation] CancellationToken cancellation)
    {
        foreach (var (variant, input, target) in cells)
        {
            var diagnosis = new CellDiagnosis { Variant = variant, Input = input, Target = target };
            var cell = sittings.SelectMany(sitting => sitting.Cells)
                .FirstOrDefault(cell => IsOf(cell, variant, input, target) && cell.Loop.Order == study.Variants[variant].Loop.Order);
            if (cell is null)
            {
                continue;
            }

            var replies = new List<DiagnoseReply>();
            var isCutShort = false;
            foreach (var kind in Wanted(variant, input, target))
            {
                // What is kept in memory is told of every preparation, and soon found.
                if (kind != DiagnosisKind.Retained && isTimeOver())
                {
                    isCutShort = true;
                    continue;
                }

                if (await AskAsync(cell, kind, cancellation) is { } reply)
                {
                    replies.Add(reply);
                    CountersAbsence ??= reply.Counters?.Absence;
                }
            }

            Missed += isCutShort ? 1 : 0;
            if (replies.Count > 0)
            {
                yield return diagnosis with
                {
                    FirstCallNanoseconds = [.. replies.Select(reply => reply.FirstCallNanoseconds).OfType<long>()],
                    AllocatedTypes = replies.FirstOrDefault(reply => reply.AllocatedTypes is not null)?.AllocatedTypes ?? [],
                    CodeVersions = replies.FirstOrDefault(reply => reply.CodeVersions is not null)?.CodeVersions ?? [],
                    RetainedBytes = replies.FirstOrDefault(reply => reply.RetainedBytes is not null)?.RetainedBytes,
                    Counters = replies.FirstOrDefault(reply => reply.Counters is not null)?.Counters,
                };
            }
        }
    }

    private IEnumerable<DiagnosisKind> Wanted(int variant, int input, int target)
    {
        if (study.Variants[variant].Part == VariantPart.Prepare)
        {
            yield return DiagnosisKind.Retained;
        }

        if (plan.Diagnoses.Contains(DiagnosisKind.FirstCall))
        {
            for (var process = 0; process < FirstCalls; process++)
            {
                yield return DiagnosisKind.FirstCall;
            }
        }

        if (plan.Diagnoses.Contains(DiagnosisKind.Code))
        {
            yield return DiagnosisKind.Code;
        }

        // A machine that shows no counters for one cell shows none for another.
        if (plan.Diagnoses.Contains(DiagnosisKind.Counters) && CountersAbsence is null)
        {
            yield return DiagnosisKind.Counters;
        }

        if (plan.Diagnoses.Contains(DiagnosisKind.Types) && Allocates(variant, input, target))
        {
            yield return DiagnosisKind.Types;
        }
    }

    private bool Allocates(int variant, int input, int target)
        => sittings.Any(sitting => sitting.Readings.Any(reading => reading.AllocatedBytes > 0
            && IsOf(sitting.Cells[reading.Cell], variant, input, target)));

    private static bool IsOf(CellDescription cell, int variant, int input, int target)
        => cell.Kind == CellKind.Variant && (cell.Variant, cell.Input, cell.Target) == (variant, input, target);

    // A worker lost here costs no figure that was measured.
    private async Task<DiagnoseReply?> AskAsync(CellDescription cell, DiagnosisKind kind, CancellationToken cancellation)
    {
        try
        {
            var (worker, _) = await starter.StartReadyAsync(patience, cancellation, cell.Target);
            await using var disposal = worker;
            var request = new DiagnoseRequest { Study = study.Name, Seed = plan.Seed, Cell = places[cell.Target].Own(cell), Kind = kind };
            return await worker.AskAsync<DiagnoseRequest, DiagnoseReply>(WorkerMethods.Diagnose, request, patience, cancellation);
        }
        catch (WorkerException)
        {
            return null;
        }
    }
}
