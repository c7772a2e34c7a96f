using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
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
    private readonly SittingsViews _views;
    private readonly SittingsView _view;
    private readonly Pairing _pairing;
    private readonly Pairing? _apart;
    private readonly Pairing? _held;
    private readonly StudyDescription _study;
    private readonly int _input;
    private readonly AnalysisOptions _options;
    private readonly List<int> _rows;
    private readonly List<(int Row, int Other)> _compared;
    private readonly Resolutions _resolutions;
    private readonly List<(int Repeat, ContrastFamily Family)> _repeats;

    public InputExaminer(SittingsViews views, int input, AnalysisOptions options)
    {
        (_views, _view, _study, _input, _options) = (views, views.Together, views.Together.Record.Study, input, options);
        (_pairing, _apart, _held) = (new Pairing(_view), Of(views.Apart), Of(views.Held));
        _rows = [.. Enumerable.Range(0, _study.Variants.Count)
            .Where(row => !(_study.Inputs[input].IsMix && _study.Variants[row].Part == VariantPart.Prepare))];
        _resolutions = new Resolutions([_pairing], input);
        _compared = [.. Compared()];
        List<IReadOnlyList<int>> groups = [.. _rows.Where(row => _study.Variants[row].Part != VariantPart.Prepare && IsSound(row))
            .GroupBy(row => _study.Variants[row].Loop.Threads).Select(group => (IReadOnlyList<int>)[.. group])];
        List<(int Row, int Other)> ranked = [.. groups.SelectMany(Ranker.Within)];
        Ranker = new Ranker(new InputContrasts(_pairing, input, Questions(ranked), _resolutions), groups);
        _repeats = [.. views.Repeats.Select(repeat => (repeat.Repeat, Family(new Pairing(repeat.View))))];
    }

    public Ranker Ranker { get; }

    public InputFindings Examine(MachineLimits? limits)
    {
        // The pair that closes a chain has the same row as the chain's last link.
        var (closing, links) = (_compared.Where(IsClosing).ToList(), _compared.Where(pair => !IsClosing(pair)).ToList());
        return new InputFindings
        {
            Input = _study.Inputs[_input],
            TwinTimeRatio = _resolutions.First,
            ResolutionShare = _resolutions.Largest,
            Cells = [.. _rows.Select(row => new CellExaminer(_pairing, row, _input, limits).Examine(
                links.Where(pair => pair.Row == row).Select(Contrast).FirstOrDefault(), Ranker.PlaceOf(row)))],
            Chains = [.. closing.Select(Contrast)],
            Pairs = [.. Ranker.Pairs],
            BreakEvens = _options.AreContrastsOnly ? [] : [.. new BreakEvenFinder(_view, _input, _rows, Ranker.Contrasts).Find()],
            Limits = [.. LimitFinder.Find(_view, _input, _rows)],
        };
    }

    private static Pairing? Of(SittingsView? view) => view is null ? null : new Pairing(view);

    private ContrastFamily Family(Pairing pairing) => new(pairing, _input, _compared, new Resolutions([pairing], _input));

    // What is asked for comes first; while measuring goes on, nobody ranks yet.
    private IEnumerable<IEnumerable<(int Row, int Other)>> Questions(List<(int Row, int Other)> ranked)
        => _options.Against == Against.Each ? [ranked, _compared]
            : _options.AreContrastsOnly ? [_compared]
            : [_compared, ranked];

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

    private int? Before(int row)
        => _rows.Where(other => other < row && IsSound(other) && Kind(other) == Kind(row)).Select(other => (int?)other).LastOrDefault();

    // Only rows of one kind do the same job.
    private (int? Threads, bool IsPreparation) Kind(int row)
        => (_study.Variants[row].Loop.Threads, _study.Variants[row].Part == VariantPart.Prepare);

    private bool IsSound(int row) => _view.Failure(row, _input) is null;

    private Contrast Contrast((int Row, int Other) pair)
    {
        var (row, other) = pair;
        var found = Ranker.Contrasts.Find(row, other)!.Value;
        var level = found.TimeRatio.Level;
        var paid = Paid(row, other, level);
        var saved = _pairing.Saved(row, other, _input, level);
        return new Contrast
        {
            TimeRatio = found.TimeRatio,
            Verdict = found.Verdict,
            Other = other,
            PaidTimeRatio = paid,
            SavedNanosecondsPerCall = paid is null ? Agreeing(saved, found.Verdict) : saved,
            SavedProcessorNanosecondsPerCall = _pairing.SavedProcessorTime(row, other, _input, level),
            SittingsToDecide = found.SittingsToDecide,
            Speeds = found.Speeds,
            ApartTimeRatio = _apart?.Ratio(row, other, _input).At(level),
            Held = _held is null ? null : Held(_held, row, other, paid ?? found.TimeRatio),
            Stages = _options.AreContrastsOnly || !found.TimeRatio.IsMeasured
                ? []
                : StageContrast.Of(_view, row, other, _input, _view.Level),
            Repeats = [.. _repeats.Select(repeat => repeat.Family.Find(row, other) is { } again
                ? new RepeatedContrast(repeat.Repeat, again.TimeRatio, again.Verdict)
                : new RepeatedContrast(repeat.Repeat, Interval.Unknown(level), Verdict.Unclear))],
        };
    }

    // What is shown to be faster saves something, and what is shown to be slower nothing.
    private static Interval Agreeing(Interval saved, Verdict verdict) => verdict switch
    {
        Verdict.Faster => saved with { Lower = Math.Max(0, saved.Lower) },
        Verdict.Slower => saved with { Upper = Math.Min(0, saved.Upper) },
        _ => saved,
    };

    private Interval? Paid(int row, int other, double level)
        => _view.IsAnyPaused(row, _input) || _view.IsAnyPaused(other, _input) ? _pairing.PaidRatio(row, other, _input).At(level) : null;

    private HeldContrast Held(Pairing held, int row, int other, Interval free)
    {
        var ratio = held.Ratio(row, other, _input).At(free.Level);
        var remaining = ratio.IsMeasured && free.IsMeasured ? Math.Log(ratio.Estimate) / Math.Log(free.Estimate) : double.NaN;
        return new HeldContrast(ratio, remaining, ratio.Lower > free.Upper || ratio.Upper < free.Lower);
    }
}
