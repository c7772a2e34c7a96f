using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Pairs of rows compared on one input to answer one question, whose verdicts and whose intervals are to hold together.</summary>
/// <remarks>
/// Verdicts take the level Holm's steps give each test. Ends are quoted at Bonferroni's level, 1 − α / k for k tests, and no
/// further than the verdict: what Holm's procedure claims bounds the ratio too (Guilbaud, "Simultaneous confidence regions
/// corresponding to Holm's step-down procedure", 2008). "Same" is read off the quoted interval.
/// </remarks>
internal sealed class ContrastFamily
{
    private readonly Dictionary<(int Row, int Other), PairContrast> _pairs;

    public ContrastFamily(Pairing pairing, int input, IEnumerable<(int Row, int Other)> pairs, Resolutions resolutions)
    {
        var view = pairing.View;
        var asked = pairs.Select(pair => (pair.Row, pair.Other, Ratio: pairing.Ratio(pair.Row, pair.Other, input))).ToList();
        var shares = asked.ConvertAll(pair => pair.Ratio.Bound == Bound.None ? resolutions.Of(pair.Other) : Judge.SmallestResolutionShare);
        var levels = FamilyLevels.Of(
            [.. asked.Select((pair, index) => pair.Ratio.ProbabilityWithin(Math.Log(1 + shares[index])))], view.Level);
        _pairs = asked.Select((pair, index) =>
        {
            var (ratio, verdict) = Judge.Decide(pair.Ratio.At, levels.Tests[index], levels.Quoted, shares[index], view.MarginShare);
            var needed = verdict == Contrasts.Verdict.Unclear && pair.Ratio.Bound == Bound.None
                ? Judge.CountToDecide(pair.Ratio.Mean, levels.Tests[index], resolutions.Twin(pair.Other), view.Level, view.MarginShare)
                : null;
            var found = new PairContrast(pair.Row, pair.Other, ratio, verdict, needed);
            return pair.Ratio.Bound != Bound.None ? found
                : WithSpeeds(found, pairing.Speeds.Of(pair.Row, pair.Other, input, levels.Quoted, shares[index]));
        }).ToDictionary(pair => (pair.Row, pair.Other));
    }

    // Whatever mixture of its speeds a program meets, its ratio lies between those at each of them, but for placements astray, of which
    // there may be more than the mean leaves out; and where these say different things, no figure of the mixture says anything.
    private static PairContrast WithSpeeds(PairContrast mixed, IReadOnlyList<SpeedContrast> speeds)
    {
        if (speeds.Count == 0)
        {
            return mixed;
        }

        var ratio = mixed.TimeRatio;
        var (lower, upper) = (speeds.Min(speed => speed.TimeRatio.Lower), speeds.Max(speed => speed.TimeRatio.Upper));
        var isMany = SpeedContrast.DoDiffer(speeds);
        var isOne = speeds[0].Verdict != Contrasts.Verdict.Unclear && speeds.All(speed => speed.Verdict == speeds[0].Verdict);
        return mixed with
        {
            TimeRatio = ratio with
            {
                Lower = Math.Max(ratio.Lower, Math.Min(ratio.Estimate, lower)),
                Upper = Math.Min(ratio.Upper, Math.Max(ratio.Estimate, upper)),
            },
            Verdict = isOne ? speeds[0].Verdict : isMany ? Contrasts.Verdict.Unclear : mixed.Verdict,
            SittingsToDecide = isOne || isMany ? null : mixed.SittingsToDecide,
            Speeds = speeds,
        };
    }

    /// <summary>The pair, whichever way round it was compared; null when it was not.</summary>
    public PairContrast? Find(int row, int other)
        => _pairs.TryGetValue((row, other), out var found) ? found
            : _pairs.TryGetValue((other, row), out found) ? found.Reversed()
            : null;
}
