using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Stages;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Uses;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Finds what there is to find on one input: contrasts, ranking, break-evens, limits, and each cell's figures.</summary>
internal sealed class InputExaminer
{
    private readonly StudyViews _views;
    private readonly StudyView _view;
    private readonly StudyDescription _study;
    private readonly int _input;
    private readonly AnalysisOptions _options;
    private readonly List<int> _rows;
    private readonly Floors _floors;
    private readonly List<(int Repeat, ContrastFamily Family)> _repeats;

    public InputExaminer(StudyViews views, int input, AnalysisOptions options)
    {
        (_views, _view, _study, _input, _options) = (views, views.Together, views.Together.Record.Study, input, options);
        _rows = [.. Enumerable.Range(0, _study.Variants.Count).Where(row => !(_study.Inputs[input].IsMix && _study.Variants[row].Part == VariantPart.Prepare))];
        _floors = new Floors([_view], input);
        Ranker = new Ranker(_view, input, options.AreContrastsOnly && options.Against != Against.Each ? [] : _rows, _floors);
        var pairs = Compared().ToList();
        _repeats = [.. views.Repeats.Select(repeat => (repeat.Repeat, new ContrastFamily(repeat.View, input, pairs, new Floors([repeat.View], input))))];
        Family = options.Against == Against.Each ? new ContrastFamily(_view, input, pairs.Where(pair => Ranker.Pairs.Find(pair.Row, pair.Other) is null), _floors)
            : new ContrastFamily(_view, input, pairs, _floors);
    }

    public Ranker Ranker { get; }

    private ContrastFamily Family { get; }

    public InputFindings Examine(MachineLimits? limits)
    {
        var compared = Compared().ToList();
        // The pair that closes a chain has the same row as the chain's last link.
        var (closing, links) = (compared.Where(IsClosing).ToList(), compared.Where(pair => !IsClosing(pair)).ToList());
        return new InputFindings
        {
            Input = _study.Inputs[_input],
            TwinTimeRatio = _floors.First,
            FloorShare = _floors.Largest,
            Cells = [.. _rows.Select(row => new CellExaminer(_view, row, _input, limits).Examine(
                links.Where(pair => pair.Row == row).Select(Contrast).FirstOrDefault(), Ranker.PlaceOf(row)))],
            Chains = [.. closing.Select(Contrast)],
            Pairs = [.. Ranker.Pairs.All],
            BreakEvens = _options.AreContrastsOnly ? [] : [.. BreakEvenFinder.Find(_view, _input, _rows)],
            Limits = [.. LimitFinder.Find(_view, _input, _rows)],
        };
    }

    private bool IsClosing((int Row, int Other) pair) => _options.Against == Against.Previous && Before(pair.Row) != pair.Other;

    private IEnumerable<(int Row, int Other)> Compared()
    {
        foreach (var row in _rows.Where(IsSound))
        {
            if ((_options.Against == Against.Previous ? Before(row) : _study.Reference(row)) is { } other && other != row && IsSound(other))
            {
                yield return (row, other);
            }
        }

        if (_options.Against == Against.Previous)
        {
            foreach (var chain in _rows.Where(IsSound).GroupBy(Kind).Where(chain => chain.Count() > 2))
            {
                yield return (chain.Last(), chain.First());
            }
        }
    }

    private int? Before(int row) => _rows.Where(other => other < row && IsSound(other) && Kind(other) == Kind(row)).Select(other => (int?)other).LastOrDefault();

    // Only rows of one kind do the same job.
    private (int? Threads, bool IsPreparation) Kind(int row) => (_study.Variants[row].Loop.Threads, _study.Variants[row].Part == VariantPart.Prepare);

    private bool IsSound(int row) => _view.Failure(row, _input) is null;

    private Contrast Contrast((int Row, int Other) pair)
    {
        var (row, other) = pair;
        var found = (Family.Find(row, other) ?? Ranker.Pairs.Find(row, other))!.Value;
        var level = found.TimeRatio.Level;
        return new Contrast
        {
            TimeRatio = found.TimeRatio,
            Verdict = found.Verdict,
            Other = other,
            IsBound = _view.IsBelow(row, _input) || _view.IsBelow(other, _input),
            SavedNanosecondsPerCall = SampleStatistics.MeanInterval(StudyView.Difference(_view.Times(other, _input), _view.Times(row, _input)), level),
            SavedProcessorNanosecondsPerCall = SampleStatistics.MeanInterval(StudyView.Difference(_view.ProcessorTimes(other, _input), _view.ProcessorTimes(row, _input)), level),
            SittingsToDecide = found.SittingsToDecide,
            ApartTimeRatio = _views.Apart?.TimeRatio(row, other, _input, level),
            Held = _views.Held is { } held ? Held(held, row, other, found.TimeRatio) : null,
            Stages = _options.AreContrastsOnly ? [] : StageContrast.Of(_view, row, other, _input, _view.Level),
            Repeats = [.. _repeats.Select(repeat => repeat.Family.Find(row, other) is { } again
                ? new RepeatedContrast(repeat.Repeat, again.TimeRatio, again.Verdict)
                : new RepeatedContrast(repeat.Repeat, Interval.Unknown(level), Verdict.Unclear))],
        };
    }

    private HeldContrast Held(StudyView held, int row, int other, Interval free)
    {
        var ratio = held.TimeRatio(row, other, _input, free.Level);
        return new HeldContrast(ratio, Math.Log(ratio.Estimate) / Math.Log(free.Estimate), ratio.Lower > free.Upper || ratio.Upper < free.Lower);
    }
}
