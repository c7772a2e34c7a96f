using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>The least difference that can be claimed on one input, by the twins of its baselines: one for each number of threads.</summary>
internal sealed class Resolutions
{
    private readonly StudyDescription _study;
    private readonly Dictionary<int, SampleMean> _twins;
    private readonly double _level;

    /// <param name="pairings">
    /// The study on one target, or on all that are compared: the target whose twins are told apart most counts.
    /// </param>
    /// <param name="input">Index of the input.</param>
    public Resolutions(IReadOnlyList<Pairing> pairings, int input)
    {
        _study = pairings[0].View.Record.Study;
        _level = pairings[0].View.Level;
        _twins = Enumerable.Range(0, _study.Variants.Count)
            .Where(row => _study.Variants[row] is { IsBaseline: true } and not { Part: VariantPart.Prepare })
            .ToDictionary(row => row, row => pairings.Select(pairing => SampleMean.Of(pairing.Twin(row, input)))
                .OrderByDescending(twin => Share(twin) is var share && double.IsFinite(share) ? share : 0).First());
    }

    /// <summary>The first baseline's twin compared with it.</summary>
    public Interval First => Ratio(_twins.Values.FirstOrDefault(SampleMean.Of([])));

    /// <summary>The largest of the resolutions, as a share; infinite without a twin.</summary>
    public double Largest => _twins.Count == 0 ? double.PositiveInfinity : _twins.Values.Max(Share);

    /// <summary>The resolution for a row, as a share.</summary>
    public double Of(int row) => Share(Twin(row));

    /// <summary>The twin that stands for a row: log of its time over its baseline's, over sittings.</summary>
    /// <remarks>Preparations have no twin of their own; they are no finer than the uses of the same baseline.</remarks>
    public SampleMean Twin(int row)
        => _study.Reference(row) is { } reference && _twins.TryGetValue(reference, out var twin)
            ? twin
            : _twins.Values.FirstOrDefault(SampleMean.Of([]));

    private double Share(SampleMean twin) => Judge.ResolutionShare(Ratio(twin));

    private Interval Ratio(SampleMean twin) => twin.At(_level).Through(Math.Exp);
}
