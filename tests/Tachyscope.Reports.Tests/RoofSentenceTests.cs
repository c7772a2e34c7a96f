using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Tests;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Tests;

/// <summary>What is said of how near variants come to what the machine can do, on simulated runs.</summary>
public sealed class RoofSentenceTests
{
    // 1,024 bytes in 10 ns are 102 a nanosecond; the second level gives 110, memory 20.
    private static readonly MachineLimits Limits = new()
    {
        Machine = new() { Processor = "Lamp 3000", ProcessorCount = 4, OperatingSystem = "Harbour 12" },
        Measured = DateTimeOffset.UnixEpoch,
        OperationsPerSecond = 100e9,
        Memory = [new("L1", 512, 220e9), new("L2", 4_096, 110e9), new("memory", null, 20e9)],
    };

    [Fact]
    public void What_reads_as_fast_as_its_level_gives_is_told_with_the_level()
    {
        var sentence = Of(new WorkPerCall { Bytes = 1_024, Operations = 128 }, [20, 10]);

        Assert.Matches(@"^V1 reads at least [89]\d(\.\d)? % of what a processor of this machine can read from L2: ", sentence.Text);
        Assert.InRange(Assert.Single(sentence.Evidence).Lower, 0.85, 0.95);
    }

    [Fact]
    public void What_computes_as_fast_as_the_machine_can_is_told()
        => Assert.Matches(@"^V1 does at least 8\d(\.\d)? % of the arithmetic that a processor of this machine can do: ",
            Of(new WorkPerCall { Operations = 900 }, [20, 10]).Text);

    [Fact]
    public void What_is_far_from_both_limits_waits_for_something_else()
    {
        var sentence = Of(new WorkPerCall { Bytes = 128, Operations = 16 }, [20, 10]);

        Assert.Matches(@"^V1 uses at most \S+ % of what L1 gives and at most \S+ % of what this machine computes: ", sentence.Text);
        Assert.All(sentence.Evidence, share => Assert.InRange(share.Upper, 0.01, 0.1));
    }

    [Fact]
    public void Between_near_and_far_nothing_is_said()
        => Assert.Empty(All(new WorkPerCall { Bytes = 1_024 }, [40, 18], Limits));

    [Fact]
    public void Without_limits_of_this_machine_nothing_is_said()
        => Assert.Empty(All(new WorkPerCall { Bytes = 1_024 }, [20, 10], limits: null));

    private static Sentence Of(WorkPerCall work, double[] times) => Assert.Single(All(work, times, Limits));

    private static IEnumerable<Sentence> All(WorkPerCall work, double[] times, MachineLimits? limits)
    {
        var made = new RunSimulator { Times = times, Bytes = new long[times.Length] }.Make(1);
        var study = made.Studies[0];
        var run = made with
        {
            Limits = limits,
            Studies = [study with { Study = study.Study with { Inputs = [.. study.Study.Inputs.Select(input => input with { Work = work })] } }],
        };
        return StudyReporter.Report(run, Analyst.Examine(run, AnalysisOptions.Default)[0], note: null).Conclusion
            .Where(sentence => sentence.Question == Question.Roof);
    }
}
