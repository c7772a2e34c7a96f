using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Pairs of rows compared on one input, whose verdicts are to hold together: each is read at the level Holm's adjustment gives it.</summary>
internal sealed class ContrastFamily
{
    private readonly Dictionary<(int Row, int Other), PairContrast> _pairs;

    public ContrastFamily(StudyView view, int input, IEnumerable<(int Row, int Other)> pairs, Floors floors)
    {
        var asked = pairs.ToList();
        var means = asked.ConvertAll(pair => SampleMean.Of(view.LogRatios(pair.Row, pair.Other, input)));
        var floorShares = asked.ConvertAll(pair => floors.Of(pair.Other));
        var levels = Holm.Levels([.. means.Select((mean, index) => mean.ProbabilityWithin(Math.Log(1 + floorShares[index])))], view.Level);
        _pairs = asked.Select((pair, index) =>
        {
            var ratio = means[index].At(levels[index]).Through(Math.Exp);
            var verdict = Judge.Decide(ratio, floorShares[index], view.MarginShare);
            return new PairContrast(pair.Row, pair.Other, ratio, verdict, verdict == Contrasts.Verdict.Unclear ? Judge.CountToDecide(means[index], levels[index], floors.Twin(pair.Other), view.Level, view.MarginShare) : null);
        }).ToDictionary(pair => (pair.Row, pair.Other));
    }

    public IReadOnlyCollection<PairContrast> All => _pairs.Values;

    /// <summary>The pair, whichever way round it was compared; null when it was not.</summary>
    public PairContrast? Find(int row, int other)
        => _pairs.TryGetValue((row, other), out var found) ? found
            : _pairs.TryGetValue((other, row), out found) ? found.Reversed()
            : null;

    public Verdict Verdict(int row, int other) => Find(row, other)?.Verdict ?? Contrasts.Verdict.Unclear;
}
