using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Tests;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Tests;

/// <summary>What settles at several speeds, is called or finds its caches empty, as it is shown.</summary>
public sealed class SpeedViewTests
{
    private static readonly RunSimulator Placed = new()
    {
        Times = [100, 95], Sittings = 14, Rounds = 12, SharedShare = 0.3, SharedFactors = [1.6, 1.3], CallsPerReading = 500, Slowing = 0,
        SecondSpeeds = [(0, 1), (0.4, 1.3)],
    };

    [Fact]
    public void Each_speed_stands_in_the_table_and_below_it_and_never_their_mean()
    {
        var shown = Shown(Placed.Make(3));
        var row = shown.Split('\n').First(line => line.TrimStart().StartsWith("v1", StringComparison.Ordinal));

        Assert.Matches(@"9\d\.\d ns or 12\d ns", row);
        Assert.Matches(@"÷ 1\.0\d or × 1\.2\d", row);
        Assert.Contains("? depends", row, StringComparison.Ordinal);
        Assert.All(
            (string[])["several speeds", "in so many processes", " of 14", "compared at each speed", "its speed", "the other's",
                "faster", "slower"],
            text => Assert.Contains(text, shown, StringComparison.Ordinal));
        Assert.DoesNotContain("goes along with", shown, StringComparison.Ordinal);
    }

    [Fact]
    public void Copies_are_placements_and_what_goes_along_with_the_speeds_is_told_of_each()
    {
        var run = (Placed with { Sittings = 8, Copies = 2, Rounds = 40 }).Make(2);
        Assert.Contains("in so many placements", Shown(run), StringComparison.Ordinal);

        run = Placed.Make(3);
        var slow = Speeds(run);
        var study = run.Studies[0];
        run = run with
        {
            Studies = [study with { Sittings = [.. study.Sittings.Select((sitting, index) => Heard(sitting, slow[index] ? 170 : 187))] }],
        };

        var shown = Shown(run);
        Assert.Contains("187 bytes of code", shown, StringComparison.Ordinal);
        Assert.Contains("170 bytes of code", shown, StringComparison.Ordinal);
    }

    // Whether the second variant was at its second speed, by the longest of its readings less those that were shared.
    private static List<bool> Speeds(Run run) => [.. run.Studies[0].Sittings.Select(sitting => sitting.Readings
        .Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant,
            Variant: 1 }).Min(reading => reading.NanosecondsPerCall) > 110)];

    private static SittingRecord Heard(SittingRecord sitting, int bytes) => sitting with
    {
        WarmUps = [.. sitting.WarmUps.Select(warm => sitting.Cells[warm.Cell] is { Kind: CellKind.Variant, Variant: 1 }
            ? warm with { Code = new CellCode { IsInlined = false, Bytes = bytes, Offset = 32, LoopBytes = 93 } }
            : warm)],
    };

    private static string Shown(Run run)
    {
        var report = StudyReporter.Report(run, Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default), null);
        using var written = new StringWriter();
        var console = TerminalConsole.Plain(written);
        console.Profile.Width = 200;
        StudyView.Write(report, console);
        return written.ToString();
    }
}
