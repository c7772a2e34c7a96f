using System.Globalization;
using Tachyscope;
using Tachyscope.Bench.Studies;

if (args is ["by-hand", var study, var seconds])
{
    ByHand.Run(study, double.Parse(seconds, CultureInfo.InvariantCulture));
    return 0;
}

return await Studies.RunAsync(args, [KnownCost.Study, Twins.Study, Allocation.Study, .. Shapes.All, .. Usage.All]);
