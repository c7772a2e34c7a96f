using Tachyscope.Lab.Experiments;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>
/// Who holds the rows of a study: the targets, each with the rows it has, and then the run's guests, each with one. Workers are started
/// by the index of their seat.
/// </summary>
internal sealed class StudySeats
{
    private readonly StudyDescription _study;
    private readonly MetTargets _met;
    private readonly Dictionary<int, int> _guests = [];

    public StudySeats(StudyDescription study, MetTargets met)
    {
        (_study, _met) = (study, met);
        Targets = [.. Enumerable.Range(0, met.Count).Select(target => met.Place(study, target))];
        for (var row = 0; row < study.Variants.Count; row++)
        {
            if (study.Variants[row].Guest is not null && met.GuestOf(study.Name, study.Variants[row].Name) is { } guest)
            {
                _guests[row] = guest;
            }
        }
    }

    /// <summary>Where each target has the rows and inputs.</summary>
    public IReadOnlyList<StudyPlace> Targets { get; }

    /// <summary>Rows that live in guests, in the study's order.</summary>
    public IEnumerable<int> GuestRows => _guests.Keys.Order();

    /// <summary>Seats that a sitting has workers on: more than one target's only where the study has rows of its own.</summary>
    public int Count => _guests.Count + (_guests.Count == _study.Variants.Count ? 0 : Targets.Count);

    /// <summary>Index of the run's guest that a row lives in; null for a row of the study's own.</summary>
    public int? GuestOf(int row) => _guests.TryGetValue(row, out var guest) ? guest : null;

    /// <summary>Seat of a cell's worker.</summary>
    public int Of(CellDescription cell) => cell.Guest is { } guest ? Targets.Count + guest : cell.Target;

    /// <summary>Seat of a guest's row.</summary>
    public int OfRow(int row) => Targets.Count + _guests[row];

    /// <summary>Whether a row's guest makes its inputs and compares its answers by itself.</summary>
    public bool IsOurs(int row) => _met.Guests[_guests[row]].IsOurs;

    /// <summary>Index of the row that a guest of ours compares its answer with, among the guest's own.</summary>
    public int OwnReference(int row) => _met.Guests[_guests[row]].Reference;

    /// <summary>Index of a guest's row among the guest's own operations.</summary>
    public int OwnRow(int row) => _met.Guests[_guests[row]].Operation;

    /// <summary>A cell as its worker counts rows and inputs.</summary>
    public CellDescription Own(CellDescription cell)
        => cell.Guest is null ? Targets[cell.Target].Own(cell)
            : cell.Kind == CellKind.Metronome ? cell
            : cell with { Variant = OwnRow(cell.Variant) };

    /// <summary>The loop a row is measured in on a target.</summary>
    public LoopShape Loop(int target, int row) => Targets[target].Loop(row) ?? _study.Variants[row].Loop;

    /// <summary>Cells of guests that could not be built, or that nobody was there to build.</summary>
    public IEnumerable<CellFailure> Unbuilt()
        => from row in Enumerable.Range(0, _study.Variants.Count)
           where _study.Variants[row].Guest is not null
           let met = GuestOf(row) is { } guest ? _met.Guests[guest] : null
           where met is null || met.Problem is not null
           from input in Enumerable.Range(0, _study.Inputs.Count)
           select new CellFailure
           {
               Variant = row, Input = input, Kind = CellFailureKind.NotBuilt, LastLines = met?.LastLines ?? [],
               Reason = met?.Problem ?? "is a guest, and guests are built by tachyscope run alone",
           };
}
