using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>A baseline of 100 ns beside what is prepared once and used.</summary>
internal static class PreparedStudy
{
    public static RunSimulator Of(RunSimulator simulator, double prepare, double use) => simulator with
    {
        Times = [100, prepare, use], Bytes = new long[3],
        Shape = study => study with
        {
            Variants =
            [
                study.Variants[0],
                study.Variants[1] with { Variant = "grid", Name = "grid: prepare", Part = VariantPart.Prepare },
                study.Variants[2] with { Variant = "grid", Name = "grid: use", Part = VariantPart.Use },
            ],
        },
    };
}
