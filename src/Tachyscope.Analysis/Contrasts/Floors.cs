using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>The least difference that can be claimed on one input, by the twins of its baselines: one for each number of threads.</summary>
internal sealed class Floors
{
    private readonly StudyDescription _study;
    private readonly Dictionary<int, SampleMean> _twins;
    private readonly double _level;

    /// <param name="views">The study on one target, or on all that are compared: their twins count together.</param>
    /// <param name="input">Index of the input.</param>
    public Floors(IReadOnlyList<StudyView> views, int input)
    {
        _study = views[0].Record.Study;
        _level = views[0].Level;
        _twins = Enumerable.Range(0, _study.Variants.Count)
            .Where(row => _study.Variants[row] is { IsBaseline: true } and not { Part: VariantPart.Prepare })
            .ToDictionary(row => row, row => SampleMean.Of([.. views.SelectMany(view => view.TwinLogRatios(row, input))]));
    }

    /// <summary>The first baseline's twin compared with it.</summary>
    public Interval First => Ratio(_twins.Values.FirstOrDefault(SampleMean.Of([])));

    /// <summary>The largest of the floors, as a share; infinite without a twin.</summary>
    public double Largest => _twins.Count == 0 ? double.PositiveInfinity : _twins.Values.Max(Share);

    /// <summary>The floor for a row, as a share.</summary>
    public double Of(int row) => Share(Twin(row));

    /// <summary>The twin that stands for a row: log of its time over its baseline's, over sittings.</summary>
    /// <remarks>Preparations have no twin of their own; they are no finer than the uses of the same baseline.</remarks>
    public SampleMean Twin(int row)
        => _study.Reference(row) is { } reference && _twins.TryGetValue(reference, out var twin) ? twin : _twins.Values.FirstOrDefault(SampleMean.Of([]));

    private double Share(SampleMean twin) => Judge.FloorShare(Ratio(twin));

    private Interval Ratio(SampleMean twin) => twin.At(_level).Through(Math.Exp);
}
