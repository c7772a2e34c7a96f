using System.Globalization;
using MathNet.Numerics;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>Chains of known cost in every shape of operation: what does each shape's loop leave in the time?</summary>
internal static class ShapesBench
{
    private const double AllowedShare = 0.01;
    private const double AllowedNanoseconds = 0.1;

    // An enumerator is made, and a task awaited, in part while the chain is still being worked on: no line is to be expected.
    // What the operation does beside its links, in clock cycles: it is part of the operation, not left by the loop.
    private static readonly (string Study, double OwnCycles, string Own, bool IsStraight)[] Shapes =
    [
        ("int to int", 0, "", true),
        ("long to long", 1, "a narrowing and a widening", true),
        ("double to double", 0, "", true),
        ("object to int", 5, "load of a field", true),
        ("int to object", 7, "an index and a load", true),
        ("int to class", 7, "an index and a load", true),
        ("int to 16 bytes", 0, "", true),
        ("int to 128 bytes", 0, "", true),
        ("int to int?", 0, "", true),
        ("int to tuple", 1, "a comparison", true),
        ("int to decimal", 1, "a sign", true),
        ("int to bool", 2, "a mask and a comparison", true),
        ("int to span", 1, "a mask and a sum", true),
        ("int to nothing", 0, "", true),
        ("capturing lambda", 1, "one instruction", true),
        ("dial", 1, "one instruction", true),
        ("prepared", 1, "one instruction", true),
        ("an input for each call", 0, "", true),
        ("mix of inputs", 0, "", true),
        ("enumerated", 60, "an enumerator made and gone through", false),
        ("through a delegate", 0, "", true),
        ("through a delegate to tuple", 0, "", false),
        ("awaited, over at once", 0, "", false),
        ("one thread of its own", 0, "", true),
        ("two threads", 0, "", true),
    ];

    /// <summary>Measures all shapes, or those named.</summary>
    /// <param name="asked">Names of shapes, and at most one runtime.</param>
    public static async Task<int> RunAsync(string[] asked)
    {
        var shapes = Shapes.Where(shape => asked.Contains(shape.Study)).ToList() is { Count: > 0 } named ? named : [.. Shapes];
        var runtime = asked.FirstOrDefault(name => !shapes.Exists(shape => shape.Study == name));
        Console.WriteLine($"{"shape",-24}  cycles a link  intercept ns  of which its own   left  residue stated  64 off line");
        var misses = 0;
        foreach (var (study, ownCycles, own, isStraight) in shapes)
        {
            misses += await TryShapeAsync(study, ownCycles, own, isStraight, runtime) ? 0 : 1;
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"no more left than stated, and the longest chain within 1 % of the line through the others, in all but {misses} of "
                + $"{shapes.Count} shapes"));
        return misses == 0 ? 0 : 1;
    }

    private static async Task<bool> TryShapeAsync(string study, double ownCycles, string own, bool isStraight, string? runtime)
    {
        var (findings, run, _, _) = await Instrument.MeasureAsync(study, withinSeconds: 12, seed: 1, runtime);
        var input = findings.Inputs[^1];
        var cells = input.Cells.Where(cell => cell.Variant.Part != VariantPart.Prepare).ToList();
        double[] links = [.. cells.Select(cell => double.Parse(Digits(cell.Variant.Name), CultureInfo.InvariantCulture))];
        double[] times = [.. cells.Select(cell => cell.NanosecondsPerCall.Estimate)];
        // The line through the short chains; the longest one has to lie on it.
        var (intercept, slope) = Fit.Line(links[..^1], times[..^1]);
        var cycle = KnownCostBench.Beat(run) / Metronome.CyclesPerLink;
        var left = intercept - (ownCycles * cycle);
        var residue = cells[0].Loop.ResidueNanoseconds();
        var bent = (times[^1] / (intercept + (slope * links[^1]))) - 1;
        // What loads take is known to a cycle: processors differ.
        var isReached = Math.Abs(left) <= residue + (ownCycles > 1 ? cycle : 0) && (!isStraight || Math.Abs(bent) <= AllowedShare);
        Console.WriteLine(string.Create(
            CultureInfo.InvariantCulture,
            $"{study,-24}  {slope / cycle,13:0.000}  {intercept,12:0.000}  {ownCycles * cycle,16:0.00}  {left,5:0.00}  {residue,12:0.0} "
                + $" {bent,11:P2}  {(isReached ? "" : "MISSED")} {own}"));
        return isReached;
    }

    private static string Digits(string name) => string.Concat(name.TakeWhile(char.IsDigit));
}
