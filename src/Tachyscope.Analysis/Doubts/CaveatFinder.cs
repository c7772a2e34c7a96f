using Tachyscope.Analysis.Findings;

namespace Tachyscope.Analysis.Doubts;

/// <summary>Finds the reasons to distrust a study's figures: docs/caveats.md.</summary>
internal static class CaveatFinder
{
    public static IEnumerable<Caveat> Find(CaveatGround ground)
        => ProcessCaveats.Find(ground.Run.Environment, ground.Run.Machine)
            .Concat(MachineCaveats.Find(ground))
            .Concat(ReadingCaveats.Find(ground))
            .Concat(StudyCaveats.Find(ground))
            .Concat(ground.Findings.Inputs.SelectMany((input, index) => input.Cells
                .Where(cell => cell.Failure is null && ground.Findings.Sittings > 0)
                .SelectMany(cell => CellCaveats.Find(ground, input, cell).Concat(PatternCaveats.Find(ground, input, index, cell)))));
}
