using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>A study as one target has it, where another order of rows and inputs may hold, and other loops.</summary>
internal sealed class StudyPlace
{
    private readonly int[] _rows;
    private readonly int[] _inputs;
    private readonly StudyDescription _own;

    /// <param name="study">The study as the run counts its rows and inputs.</param>
    /// <param name="own">The study as the target has it.</param>
    public StudyPlace(StudyDescription study, StudyDescription own)
    {
        _own = own;
        var (rows, inputs) = (own.Variants.Select(row => row.Name).ToList(), own.Inputs.Select(input => input.Label).ToList());
        _rows = [.. study.Variants.Select(row => rows.IndexOf(row.Name))];
        _inputs = [.. study.Inputs.Select(input => inputs.IndexOf(input.Label))];
    }

    public int? Row(int row) => _rows[row] < 0 ? null : _rows[row];

    public int? Input(int input) => _inputs[input] < 0 ? null : _inputs[input];

    /// <summary>The loop a row has there; null where it has no such row.</summary>
    public LoopShape? Loop(int row) => Row(row) is { } own ? _own.Variants[own].Loop : null;

    /// <summary>A cell as the target counts rows and inputs.</summary>
    public CellDescription Own(CellDescription cell)
        => cell.Kind == CellKind.Metronome ? cell : cell with { Variant = _rows[cell.Variant], Input = _inputs[cell.Input] };
}
