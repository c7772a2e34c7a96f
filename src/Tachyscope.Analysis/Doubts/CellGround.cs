using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What caveats of one cell are found in.</summary>
/// <param name="Study">Its study.</param>
/// <param name="InputFindings">What was found on its input.</param>
/// <param name="Input">Index of its input.</param>
/// <param name="Cell">What was found of it.</param>
internal sealed record CellGround(CaveatGround Study, InputFindings InputFindings, int Input, CellFindings Cell)
{
    /// <summary>Index of its row.</summary>
    public int Row => Cell.Row;

    public string Subject => CaveatGround.Subject(Cell, InputFindings);

    public SittingsView View => Study.View;
}
