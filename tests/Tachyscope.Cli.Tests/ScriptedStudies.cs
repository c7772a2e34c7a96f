using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>Studies for scripted workers, in the words of the signal station.</summary>
internal static class ScriptedStudies
{
    /// <summary>A study of the variants named, the first of them the baseline, on one lamp.</summary>
    public static StudyDescription Of(string name, params string[] variants) => new()
    {
        Name = name,
        Agreement = "exactly",
        Inputs = [new() { Label = "a lamp" }],
        Variants = [.. variants.Select((variant, index) => new VariantDescription { Name = variant, Variant = variant,
            IsBaseline = index == 0 })],
    };

    /// <summary>A baseline of 100 ns and a variant of half of that.</summary>
    public static Script Sound(params ScriptedFault[] faults) => new()
    {
        Studies = [Of("lamps", "steady", "quick")],
        Rows = [new() { Bytes = 24 }, new() { Nanoseconds = [50] }],
        Faults = faults,
    };

    /// <summary>A study that asks every question: sizes, two dials, preparing, stages, limits that are broken, a rate of calls.</summary>
    public static Script Questions
    {
        get
        {
            VariantDescription Stepped(int step, int block) => new()
            {
                Name = $"stepped, step {step}, block {block}", Variant = "stepped", Settings = [new("step", step), new("block", block)],
            };
            int[] sizes = [64, 512, 4_096];
            double[] Linear(double nanoseconds, double atLeast = 0) => [.. sizes.Select(size => atLeast + (nanoseconds * size))];
            Dictionary<string, double> Stages(double copy) => new() { ["copy"] = copy, ["sum"] = 0.95 - copy };
            return new Script
            {
                Studies =
                [
                    new StudyDescription
                    {
                        Name = "questions",
                        Agreement = "exactly",
                        Tolerance = 0,
                        Inputs = [.. sizes.Select(size => new InputDescription { Label = FormattableString.Invariant($"{size:N0} levels"),
                            Sizes = [new("levels", size)] })],
                        Variants =
                        [
                            new() { Name = "copied", Variant = "copied", IsBaseline = true },
                            new() { Name = "copied once", Variant = "copied once" },
                            Stepped(1, 32), Stepped(1, 64), Stepped(2, 32), Stepped(2, 64),
                            new() { Name = "kept: prepare", Variant = "kept", Part = VariantPart.Prepare },
                            new() { Name = "kept: use", Variant = "kept", Part = VariantPart.Use },
                        ],
                        Limits = [new() { AllocatedBytes = 0, Variant = "copied" },
                            new() { Nanoseconds = 1e9, ProcessorNanoseconds = 1e9 }],
                        Rate = new() { CallsPerSecond = 100, Callers = 8 },
                    },
                ],
                Rows =
                [
                    new() { Nanoseconds = Linear(1.0), Bytes = 560, Stages = Stages(0.6) },
                        new() { Nanoseconds = Linear(0.7), Bytes = 280, Stages = Stages(0.4) },
                    new() { Nanoseconds = Linear(0.5) }, new() { Nanoseconds = Linear(0.45) }, new() { Nanoseconds = Linear(0.6) },
                        new() { Nanoseconds = Linear(0.55) },
                    new() { Nanoseconds = Linear(0.4) }, new() { Nanoseconds = [3] },
                ],
            };
        }
    }
}
