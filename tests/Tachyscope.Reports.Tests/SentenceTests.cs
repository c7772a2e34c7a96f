using System.Globalization;
using System.Text.RegularExpressions;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Tests;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Tests;

/// <summary>That every figure of a sentence is an end of an interval it rests on, over many simulated runs.</summary>
public sealed partial class SentenceTests
{
    private static readonly RunSimulator[] Studies =
    [
        new() { Times = [100, 101, 60, 99.5, 140], Bytes = new long[5] },
        new() { Times = [100, 101.5, 99.5], Bytes = new long[3], SittingDeviation = 0.01 },
        new()
        {
            Sizes = [16, 64, 256], Times = new double[3], Bytes = new long[3],
            TimeAt = (variant, size) => variant switch { 0 => 4 * size, 1 => 200 + size, _ => 3.9 * size },
        },
    ];

    [Theory]
    [InlineData(0, "times as fast")]
    [InlineData(1, "is lost")]
    [InlineData(2, "lamps")]
    public void A_sentence_says_what_its_evidence_says_at_no_less_than_the_level_asked_for(int study, string told)
    {
        var figures = 0;
        foreach (var seed in Enumerable.Range(1, 25))
        {
            var run = Studies[study].Make(seed);
            var findings = Analyst.Examine(run, AnalysisOptions.Default)[0];
            foreach (var sentence in StudyReporter.Report(run, findings, note: null).Conclusion)
            {
                Assert.All(sentence.Evidence, interval
                    => Assert.True(interval.Level >= findings.IntervalLevel - 1e-9, $"{sentence} {interval}"));
                figures += sentence.Text.Contains(told, StringComparison.Ordinal) ? Figures(sentence) : 0;
            }
        }

        Assert.True(figures >= 10, $"Only {figures} figures were told.");
    }

    [Theory]
    [InlineData(1.3, true)]
    [InlineData(-0.3, false)]
    public void What_to_take_is_said_of_a_core_that_others_share_where_it_is_told_of_one(double share, bool isShared)
    {
        var run = new RunSimulator { Times = [100, 50], SharedShare = share, CallsPerReading = 500 }.Make(1);
        var findings = Analyst.Examine(run, AnalysisOptions.Default)[0];
        var decision = StudyReporter.Report(run, findings, note: null).Conclusion
            .Single(sentence => sentence.Question == Question.Decision);

        Assert.Equal(isShared, findings.Core.IsOfSharedCore);
        Assert.StartsWith(isShared ? "On a core that others share, take v1, the fastest: " : "Take v1, the fastest: ", decision.Text,
            StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("lamps", @"^Up to about 40\.\d \(.*\) lamps, take v0; above, take v\d.*; at 1,024 lamps v\d ")]
    [InlineData("n", @"^Up to n of about 40\.\d \(.*\), take v0; above, take v\d.*; at n = 1,024 v\d ")]
    public void Sizes_that_are_values_of_a_variable_are_told_so(string axis, string told)
    {
        var run = new RunSimulator
        {
            Axis = axis, Sizes = [4, 16, 64, 256, 1_024], TimeAt = (variant, size) => variant == 0 ? size : 40, Times = [1, 1, 1],
            Bytes = new long[3],
        }.Make(1);

        var sentences = StudyReporter.Report(run, Analyst.Examine(run, AnalysisOptions.Default)[0], note: null).Conclusion;

        Assert.Matches(told, sentences.Single(sentence => sentence.Question == Question.Decision).Text);
    }

    // How many there are, each found among the ends of the evidence.
    private static int Figures(Sentence sentence)
    {
        double[] Ends(Func<Interval, double> end) => [.. sentence.Evidence.Select(end)];
        var (gains, bands, losses) = (Gain().Matches(sentence.Text), Band().Matches(sentence.Text), Loss().Matches(sentence.Text));
        foreach (Match gain in gains)
        {
            IsAmong(Ends(ratio => 1 / ratio.Upper), gain.Groups[1].Value, sentence);
            IsAmong(Ends(ratio => 1 / ratio.Lower), gain.Groups[2].Value, sentence);
            Assert.Contains(sentence.Evidence, ratio => ratio.Upper < 1);
        }

        foreach (Match band in bands)
        {
            IsAmong(Ends(size => size.Lower), band.Groups[1].Value, sentence);
            IsAmong(Ends(size => size.Upper), band.Groups[2].Value, sentence);
        }

        foreach (Match loss in losses)
        {
            IsAmong(Ends(ratio => (ratio.Upper - 1) * 100), loss.Groups[1].Value, sentence);
        }

        return gains.Count + bands.Count + losses.Count;
    }

    // To the digits it was written in.
    private static void IsAmong(double[] ends, string written, Sentence sentence)
    {
        var figure = double.Parse(written, NumberStyles.Float | NumberStyles.AllowThousands, CultureInfo.InvariantCulture);
        var point = written.IndexOf('.', StringComparison.Ordinal);
        var unit = Math.Pow(10, point < 0 ? 0 : point + 1 - written.Length);
        Assert.True(Array.Exists(ends, end => Math.Abs(end - figure) <= 0.51 * unit),
            $"{written} of \"{sentence}\" is none of {string.Join(", ", ends)}");
    }

    [GeneratedRegex(@"([\d.,]+) to ([\d.,]+) times as fast")]
    private static partial Regex Gain();

    [GeneratedRegex(@"about [\d.,]+ \(([\d.,]+) to ([\d.,]+)\) lamps")]
    private static partial Regex Band();

    [GeneratedRegex(@"at worst ([\d.,]+) % is lost by it")]
    private static partial Regex Loss();
}
