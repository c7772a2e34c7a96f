using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>
/// Dictionary look-ups in two dictionaries built alike and apart: where they happen to lie makes them differ, which is not to be told as a
/// difference of theirs.
/// </summary>
internal static class LookUpsPart
{
    public static async Task<IReadOnlyList<Claim>> RunAsync(int runs)
    {
        var apart = 0;
        for (var run = 0; run < runs; run++)
        {
            using var load = run % 2 == 0 ? null : Load.Start(TimeSpan.FromSeconds(90), isSteady: false);
            var (findings, _, _, _) = await Instrument.MeasureAsync("look-ups", withinSeconds: null, seed: run + 1);
            var contrast = findings.Inputs[0].Cells.First(cell => cell.Variant is { IsBaseline: false, Part: VariantPart.Use }).Contrast!;
            apart += contrast.Verdict is Verdict.Faster or Verdict.Slower ? 1 : 0;
            Console.WriteLine(string.Create(
                CultureInfo.InvariantCulture,
                $"{run + 1,4} {contrast.TimeRatio.Estimate - 1,7:P2} ± {contrast.TimeRatio.HalfWidth:P2} {contrast.Verdict}, resolution "
                    + $"{findings.Inputs[0].ResolutionShare:P2}, {string.Join(" ", findings.Caveats.Select(caveat => caveat.Name))}"));
        }

        return [Claim.AtMost("look-ups in dictionaries built alike told apart", (double)apart / runs, 0.05)];
    }
}
