using System.Globalization;
using Tachyscope;
using Tachyscope.Bench.Studies;

if (args is ["by-hand" or "in-turn", var study, var seconds])
{
    ByHand.Run(study, double.Parse(seconds, CultureInfo.InvariantCulture), args[0] == "in-turn");
    return 0;
}

return await Studies.RunAsync(
    args,
    [
        KnownCost.Study, Twins.Study, Twins.LookUps, AcrossTargets.Study, Allocation.Study, Gated.Study, Calls.Study,
        .. Everyday.All, .. Shapes.All, .. Usage.All, .. Pools.All, Pools.Walk, Pools.WalkOverPages, Placed.Compiled, Placed.Data,
            Placed.One,
        Placed.TwoPercent,
    ]);
