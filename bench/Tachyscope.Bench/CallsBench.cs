using Tachyscope.Analysis.Machines;
using Tachyscope.Measuring;

namespace Tachyscope.Bench;

/// <summary>What a call takes in each way there is, beside a quiet core and a shared one, and whether the gauge says so.</summary>
internal static class CallsBench
{
    private const int CallsOfOperation = 64;

    public static async Task<int> RunAsync()
    {
        var (findings, _, _, _) = await Instrument.MeasureAsync("calls: in every way", withinSeconds: 20, seed: 1);
        var cycle = findings.NanosecondsPerLink / Metronome.CyclesPerLink;
        double Cycles(double nanoseconds) => nanoseconds / CallsOfOperation / cycle;
        Printing.Say($"a quiet core beside {findings.Core.QuietShare:P0} of the readings; cycles a call");
        foreach (var cell in findings.Inputs[0].Cells)
        {
            var quiet = Cycles(cell.NanosecondsPerCall.Estimate);
            var shared = cell.SharedTimeRatio is { } ratio ? FormattableString.Invariant($"{quiet * ratio.Estimate,8:0.0}") : "       ?";
            Printing.Say($"{cell.Variant.Name,-12} quiet {quiet,8:0.0}   shared {shared}");
        }

        var calls = findings.Core.Calls;
        Printing.Say($"{"the gauge",-12} quiet {calls.QuietCycles,8:0.0}   shared {calls.SharedCycles,8:0.0}");
        var own = Cycles(findings.Inputs[0].Cells.Single(cell => cell.Variant.Name == "virtual").NanosecondsPerCall.Estimate);
        var isReached = calls.AreUnforeseenWhenQuiet == new CallFindings { QuietCycles = own }.AreUnforeseenWhenQuiet;
        Printing.Say($"{(isReached ? "reached" : "MISSED")}  beside a quiet core the gauge and the study's virtual calls say the same: ",
            $"{(calls.AreUnforeseenWhenQuiet ? "none is" : "they are")} foreseen");
        return isReached ? 0 : 1;
    }
}
