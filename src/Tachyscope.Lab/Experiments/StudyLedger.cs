using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>What was measured of one study so far.</summary>
internal sealed class StudyLedger(StudyDescription study, int targets)
{
    private readonly List<string> _notes = [];

    public List<SittingRecord> Sittings { get; } = [];

    public List<CellFailure> Failures { get; } = [];

    public List<CellObservation> Observations { get; } = [];

    public List<CellDiagnosis> Diagnoses { get; } = [];

    /// <summary>Cells that take no part any more; a baseline may have failed as its twin as well.</summary>
    public HashSet<(int Variant, int Input, int Target)> Failed => [.. Failures.Select(failure => (failure.Variant, failure.Input, failure.Target))];

    public bool IsAnyCellLeft => Failed.Count < study.Inputs.Count * study.Variants.Count * targets;

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

    /// <summary>Fails all cells that have not failed already.</summary>
    public void GiveUp(Workers.WorkerException exception)
    {
        var reason = exception.Trouble == Workers.WorkerTrouble.Refused
            ? $"could not be set up: {exception.Message}"
            : $"its worker {exception.Message} while no operation was called";
        var failed = Failed;
        Failures.AddRange(Cells.Where(cell => !failed.Contains(cell)).Select(cell => exception.ToFailure(cell.Variant, cell.Input, cell.Target, reason)));
    }

    public StudyRecord Snapshot() => new()
    {
        Study = study,
        Sittings = [.. Sittings],
        Failures = [.. Failures],
        Observations = [.. Observations],
        Diagnoses = [.. Diagnoses],
        Note = _notes.Count == 0 ? null : string.Join("; ", _notes),
    };
}
