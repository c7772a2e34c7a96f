using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Analysis.Tests;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Exports.Tests;

/// <summary>A run of four variants on three inputs, whose names are as bad as names can be, and its files.</summary>
internal sealed class Hostile : IDisposable
{
    public const string Study = "lamps\", \"of\" the <script>alert(1)</script> pier\\";

    public static readonly string[] Variants =
        ["=1+1", "a,b\"c\nd", "\u202eback\u001b]0;x\u0007 & <b>bold</b> | `code` ‘灯台’", new('l', 300)];

    public Hostile()
    {
        var simulator = new RunSimulator
        {
            Sizes = [16, 256, 4_096], Rounds = 6, Times = [100, 50, 200, 99], Bytes = [64, 0, 24, 64],
            TimeAt = (variant, size) => ((double[])[100, 50, 200, 99])[variant] * (variant == 1 ? 1 : size / 16.0),
            Shape = study => study with
            {
                Name = Study,
                Variants = [.. study.Variants.Select((variant, index) => variant with { Name = Variants[index],
                    Source = new() { File = "pier light/a#1.cs", Line = 7 },
                    Variant = Variants[index] })],
                Limits = [new() { AllocatedBytes = 16, Variant = Variants[2] }, new() { Nanoseconds = 1e9, Variant = Variants[1] }],
            },
        };
        var run = simulator.Make(5);
        Run = run with { Studies = [run.Studies[0], run.Studies[0] with { Study = run.Studies[0].Study with { Name = "fog" } }],
            Command = "tachyscope run 'lamps `of` <b>'" };
        Found = [.. Run.Studies.Select(study => TargetAnalyst.Examine(Run, study, AnalysisOptions.Default))];
    }

    public Run Run { get; }

    public IReadOnlyList<StudyOnTargets> Found { get; }

    public string Folder { get; } = Directory.CreateTempSubdirectory("tachyscope exports ü").FullName;

    /// <summary>Cells of both studies.</summary>
    public int Cells => Found.Sum(study => study.Targets[0].Inputs.Sum(input => input.Cells.Count));

    public int Readings => Run.Studies.Sum(study => study.Sittings.Sum(sitting => sitting.Readings.Count));

    public async Task<string> WriteAsync(string name)
    {
        var path = Path.Combine(Folder, name);
        Assert.Null(ExportFile.ProblemOf(path));
        Assert.Equal(path, (await ExportFile.WriteAsync(new Export(Run, Found), path, WholeFile.WriteAsync))[0]);
        return path;
    }

    public void Dispose() => Directory.Delete(Folder, recursive: true);
}
