using System.Globalization;
using Tachyscope.Analysis.Findings;

namespace Tachyscope.Bench;

/// <summary>The demo, sound as it is, over and over: how often is one of its cells doubted?</summary>
internal static class DoubtsPart
{
    private const double AllowedShare = 0.01;

    // What the machine did, as its own figures say, and what follows from it; and one that is true: a task that is over at once.
    private static readonly string[] OfMachine = ["speed-changed", "noisy-machine", "core-shared", "interrupted", "stood-still",
        "few-sittings", "coarse"];
    private static readonly string[] True = ["near-residue"];

    public static async Task<IReadOnlyList<Claim>> RunAsync(int runs)
    {
        var (cells, names) = (0, new List<string>());
        for (var run = 0; run < runs; run++)
        {
            var (_, measured, _, seconds) = await Instrument.MeasureAsync("*", withinSeconds: null, seed: run + 1,
                assembly: Instrument.Demo);
            var findings = Analyst.Examine(measured, AnalysisOptions.Default);
            cells += findings.Sum(study => study.Inputs.Sum(input => input.Cells.Count));
            var found = findings.SelectMany(study => study.Caveats).ToList();
            names.AddRange(found.Select(caveat => caveat.Name));
            var told = found.Where(caveat => !OfMachine.Contains(caveat.Name))
                .Select(caveat => $"{caveat.Name} ({caveat.Subject}: {caveat.Evidence})").DefaultIfEmpty("nothing but the machine");
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{run + 1,4} {seconds:0} s: {string.Join(", ", told)}"));
        }

        Console.WriteLine(string.Join(", ", names.GroupBy(name => name).OrderByDescending(group => group.Count())
            .Select(group => string.Create(CultureInfo.InvariantCulture, $"{group.Key} {group.Count()}"))));
        var doubted = names.Count(name => !OfMachine.Contains(name) && !True.Contains(name));
        return [Claim.AtMost($"cells of the demo doubted for nothing, of {cells}", (double)doubted / cells, AllowedShare)];
    }
}
