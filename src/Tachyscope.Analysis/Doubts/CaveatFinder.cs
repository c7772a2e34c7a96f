using Tachyscope.Analysis.Findings;

namespace Tachyscope.Analysis.Doubts;

/// <summary>Finds the reasons to distrust a study's figures: docs/caveats.md.</summary>
internal static class CaveatFinder
{
    private static readonly Func<CaveatGround, Caveat?>[] OfRun = [.. ProcessCaveats.All, .. MachineCaveats.All, .. ReadingCaveats.All];
    private static readonly Func<CellGround, Caveat?>[] OfCell = [.. CellCaveats.All, .. PatternCaveats.All];

    public static IEnumerable<Caveat> Find(CaveatGround ground)
        => OfRun.Select(find => find(ground)).OfType<Caveat>().Select(caveat => caveat with { IsOfRun = true })
            .Concat(StudyCaveats.Find(ground))
            .Concat(Cells(ground).SelectMany(cell => OfCell.Select(find => find(cell)).OfType<Caveat>()));

    private static IEnumerable<CellGround> Cells(CaveatGround ground)
        => ground.Findings.Sittings == 0 ? []
            : ground.Findings.Inputs.SelectMany((input, index) => input.Cells
                .Where(cell => cell.Failure is null)
                .Select(cell => new CellGround(ground, input, index, cell)));
}
