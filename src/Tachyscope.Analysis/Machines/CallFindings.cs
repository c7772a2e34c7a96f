using Tachyscope.Runs;

namespace Tachyscope.Analysis.Machines;

/// <summary>Whether the processor foresees calls of methods that are known only when they are called.</summary>
/// <remarks>
/// In .NET nearly all calls are such, but those put into their caller: of virtual methods, of interfaces, through delegates, and of
/// whatever may yet be compiled anew.
/// </remarks>
public sealed record CallFindings
{
    // A call that is foreseen takes some ten cycles with what it does; one that is not, forty and more.
    private const double MostForeseen = 16;
    private const double LeastUnforeseen = 24;
    private const int FewestMoments = 5;

    /// <summary>
    /// Cycles of a virtual call while the core was ours alone: the upper quartile, since who takes hardly anything else from a core may
    /// share it unseen; NaN where that is not known.
    /// </summary>
    public double QuietCycles { get; init; } = double.NaN;

    /// <summary>
    /// The same while it was shared: the lower quartile, since a moment is often shared in a part of it only; NaN where that is not known.
    /// </summary>
    public double SharedCycles { get; init; } = double.NaN;

    /// <summary>Whether calls are not foreseen while the core is ours alone.</summary>
    public bool AreUnforeseenWhenQuiet => IsUnforeseen(QuietCycles);

    /// <summary>Whether they are foreseen as soon as it is shared.</summary>
    public bool AreForeseenWhenShared => IsForeseen(SharedCycles);

    /// <summary>What many moments tell.</summary>
    /// <param name="moments">Cycles of a call in each, and whether the core was ours alone.</param>
    /// <exception cref="ArgumentNullException"><paramref name="moments"/> is null.</exception>
    public static CallFindings Of(IEnumerable<(double Cycles, bool IsQuiet)> moments)
    {
        ArgumentNullException.ThrowIfNull(moments);
        var known = moments.Where(moment => double.IsFinite(moment.Cycles)).ToLookup(moment => moment.IsQuiet, moment => moment.Cycles);
        double At(bool isQuiet, double quantile) => known[isQuiet].Order().ToArray() is { Length: >= FewestMoments } cycles
            ? cycles[(int)(quantile * cycles.Length)] : double.NaN;
        return new CallFindings { QuietCycles = At(isQuiet: true, 0.75), SharedCycles = At(isQuiet: false, 0.25) };
    }

    /// <summary>What was heard of cores tells.</summary>
    /// <param name="cores">What was heard.</param>
    /// <param name="low">The gauge of a quiet core.</param>
    /// <exception cref="ArgumentNullException"><paramref name="cores"/> is null.</exception>
    public static CallFindings Of(IReadOnlyList<CoreHeard> cores, int low)
    {
        ArgumentNullException.ThrowIfNull(cores);
        var most = (int)(TurnGauge.QuietReach * low);
        return Of(cores.SelectMany(core => core.Gauges.Zip(core.CallGauges,
            (gauge, calls) => (TurnGauge.CyclesOf(calls), gauge <= most))));
    }

    internal static bool IsForeseen(double cycles) => cycles <= MostForeseen;

    internal static bool IsUnforeseen(double cycles) => cycles >= LeastUnforeseen;
}
