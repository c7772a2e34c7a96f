using System.Text.RegularExpressions;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Tests;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Tests;

/// <summary>What is said of a guest that was built in several ways, on simulated runs.</summary>
public sealed class GuestSentenceTests
{
    [Fact]
    public void The_build_that_makes_most_of_a_difference_is_named_with_it()
    {
        var report = Of([100, 200, 100, 150], "gcc -O2", "gcc -O3", "clang -O2");

        var sentence = Assert.Single(report.Conclusion, sentence => sentence.Text.StartsWith("Of C, ", StringComparison.Ordinal));
        Assert.Matches(@"^Of C, what gcc -O3 makes is 1\.9\d to 2\.0\d times as fast as gcc -O2\.$", sentence.Text);
        Assert.Single(sentence.Evidence);
        Assert.Equal(["gcc: gcc 12.2.0; clang: clang 16.0.6"], report.Guests);
    }

    [Fact]
    public void Builds_that_nothing_separates_are_told_as_such()
        => Assert.Contains(Of([100, 200, 200], "gcc -O2", "gcc -O3").Conclusion, sentence
            => sentence.Text == "Nothing separates the builds of C.");

    [Fact]
    public void What_one_compiler_takes_away_and_another_leaves_is_told()
    {
        var report = Of([100, 0.01, 36], "gcc -O3", "clang -O2");

        Assert.Contains(report.Conclusion, sentence => Regex.IsMatch(sentence.Text, "^Gcc -O3 leaves nothing of C that could be "
            + @"measured: it may have done the work once and for all; clang -O2 takes 3[67]\.\d ns"));
    }

    [Fact]
    public void One_build_alone_says_nothing()
        => Assert.DoesNotContain(Of([100, 200], "gcc -O2").Conclusion, sentence => sentence.Question == Conclusions.Question.Guest);

    [Fact]
    public void A_guest_that_was_not_built_is_told_and_not_counted_among_builds()
    {
        var report = Of([100, 200, 100], ["gcc -O2", "gcc-99 -O2"], new CellFailure
        {
            Variant = 2, Input = 0, Kind = CellFailureKind.NotBuilt, Reason = "there is no gcc-99 on this machine",
        });

        Assert.DoesNotContain(report.Conclusion, sentence => sentence.Question == Conclusions.Question.Guest);
        Assert.Contains(report.Failures, failure => failure.Contains("there is no gcc-99 on this machine", StringComparison.Ordinal));
    }

    private static StudyReport Of(double[] times, params string[] builds) => Of(times, builds, []);

    // A baseline of ours, and a guest in C with a row for each of its builds.
    private static StudyReport Of(double[] times, string[] builds, params CellFailure[] failures)
    {
        var run = new RunSimulator
        {
            Times = times,
            Bytes = new long[times.Length],
            Failures = failures,
            Shape = study => study with
            {
                Variants = [study.Variants[0], .. builds.Select((build, index) => study.Variants[index + 1] with
                {
                    Name = $"C, {build}", Variant = "C",
                    Guest = new GuestDescription
                    {
                        Language = "C", Build = build, Version = build.StartsWith("clang", StringComparison.Ordinal) ? "clang 16.0.6"
                            : "gcc 12.2.0",
                    },
                })],
            },
        }.Make(seed: 7);
        return StudyReporter.Report(run, Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default), note: null);
    }
}
