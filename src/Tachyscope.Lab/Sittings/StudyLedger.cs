using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>What was measured of one study so far.</summary>
internal sealed class StudyLedger(StudyDescription study, int targets, Func<StudyDescription, int, int, bool>? isCellMeant = null)
{
    private readonly List<string> _notes = [];

    public List<SittingRecord> Sittings { get; } = [];

    public List<CellFailure> Failures { get; } = [];

    public List<CellObservation> Observations { get; } = [];

    public List<CellDiagnosis> Diagnoses { get; } = [];

    /// <summary>What rows answered.</summary>
    public List<CellAnswer> Answers { get; } = [];

    /// <summary>What befell workers and cost no cell its figures.</summary>
    public List<WorkerIncident> Incidents { get; } = [];

    /// <summary>Cells that take no part any more; a baseline may have failed as its twin as well.</summary>
    public HashSet<(int Variant, int Input, int Target)> Failed
        => [.. Failures.Select(failure => (failure.Variant, failure.Input, failure.Target))];

    /// <summary>Cells that take no part: they failed, nobody asks for them, or a guest is the same whatever the target.</summary>
    public IReadOnlySet<(int Variant, int Input, int Target)> Out
        => Failed.Union(Cells.Where(cell => isCellMeant?.Invoke(study, cell.Variant, cell.Input) == false
            || (cell.Target > 0 && study.Variants[cell.Variant].Guest is not null))).ToHashSet();

    public bool IsAnyCellLeft => Out.Count < study.Inputs.Count * study.Variants.Count * targets;

    public IEnumerable<(int Variant, int Input, int Target)> Cells
        => from target in Enumerable.Range(0, targets)
           from input in Enumerable.Range(0, study.Inputs.Count)
           from variant in Enumerable.Range(0, study.Variants.Count)
           select (variant, input, target);

    public void Note(string note)
    {
        if (!_notes.Contains(note))
        {
            _notes.Add(note);
        }
    }

    /// <summary>Notes that a worker was ended from outside and replaced; false, and nothing noted, when its cell has seen that
    /// before.</summary>
    public bool Replace(LostWorker lost)
    {
        var at = lost.Cell is { } cell
            ? $"while {study.Variants[cell.Variant].Name} was called on {study.Inputs[cell.Input].Label}"
            : "while no operation was called";
        var incident = new WorkerIncident { Kind = WorkerIncidentKind.Replaced, Evidence = $"it {lost.Exception.Message} {at}" };
        if (Incidents.Remove(incident))
        {
            return false;
        }

        Incidents.Add(incident);
        return true;
    }

    /// <summary>Notes processes that outlived the worker whose operation had started them.</summary>
    public void NoteLeftBehind(IReadOnlyList<string> names)
    {
        var evidence = string.Join(", ", names.Distinct().Order(StringComparer.Ordinal));
        var incident = new WorkerIncident { Kind = WorkerIncidentKind.LeftProcesses, Evidence = evidence };
        if (names.Count > 0 && !Incidents.Contains(incident))
        {
            Incidents.Add(incident);
        }
    }

    /// <summary>Fails the cell that a worker was at, unless it has its figures and only the time was over.</summary>
    public void Fail(Workers.WorkerException exception, CellDescription cell)
    {
        var isMeasured = exception.Trouble == Workers.WorkerTrouble.OutOfTime && Sittings.Exists(sitting => sitting.Rounds > 0);
        if (!isMeasured && !Failed.Contains((cell.Variant, cell.Input, cell.Target)))
        {
            Failures.Add(exception.ToFailure(cell.Variant, cell.Input, cell.Target));
        }
    }

    /// <summary>Fails all cells that have not failed already.</summary>
    public void GiveUp(Workers.WorkerException exception)
    {
        var reason = exception.Trouble == Workers.WorkerTrouble.Refused ? $"could not be set up: {exception.Message}"
            : exception.Where is { Place: WorkerPlace.Input, Index: var input } && input < study.Inputs.Count
                ? $"could not be set up: the factory of input \"{study.Inputs[input].Label}\" {exception.Message}"
            : $"its worker {exception.Message} while no operation was called";
        var failed = Failed;
        Failures.AddRange(Cells.Where(cell => !failed.Contains(cell))
            .Select(cell => exception.ToFailure(cell.Variant, cell.Input, cell.Target, reason)));
    }

    public StudyRecord Snapshot() => new()
    {
        Study = study,
        Sittings = [.. Sittings],
        Failures = [.. Failures],
        Observations = [.. Observations],
        Diagnoses = [.. Diagnoses],
        Incidents = [.. Incidents],
        Answers = [.. Answers],
        Note = _notes.Count == 0 ? null : string.Join("; ", _notes),
    };
}
