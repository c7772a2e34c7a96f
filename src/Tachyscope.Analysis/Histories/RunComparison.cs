using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Histories;

/// <summary>Two runs compared, cell by cell.</summary>
public sealed record RunComparison
{
    /// <summary>The earlier run.</summary>
    public required RunSummary Earlier { get; init; }

    /// <summary>The later one.</summary>
    public required RunSummary Later { get; init; }

    /// <summary>The cells that both have, in the order of the later run.</summary>
    public required IReadOnlyList<CellChange> Changes { get; init; }

    /// <summary>Cells that only the earlier run has.</summary>
    public required IReadOnlyList<CellSummary> OnlyEarlier { get; init; }

    /// <summary>Cells that only the later run has.</summary>
    public required IReadOnlyList<CellSummary> OnlyLater { get; init; }

    /// <summary>What two runs of the same code differ by.</summary>
    public required BetweenRuns Between { get; init; }

    /// <summary>The smallest difference that matters, as a share.</summary>
    public required double MarginShare { get; init; }

    /// <summary>Level at which the intervals hold together.</summary>
    public required double Level { get; init; }

    /// <summary>Cells whose answer says nothing, since the same code answers otherwise in another run.</summary>
    public required IReadOnlyList<CellSummary> AnsweringAnew { get; init; }

    /// <summary>Whether both were measured on machines that are alike.</summary>
    public bool AreMachinesAlike => Earlier.Machine == Later.Machine;

    /// <summary>Whether both measured the same code, as far as that is known.</summary>
    public bool IsSameCode => Earlier.Code.Stamp is { } stamp && stamp == Later.Code.Stamp;

    /// <summary>Whether some cell had the core to itself in one run and not in the other.</summary>
    public bool AreStatesMixed => Changes.Any(change => change.Earlier.IsQuiet != change.Later.IsQuiet);

    /// <summary>Compares two runs.</summary>
    /// <param name="earlier">What was.</param>
    /// <param name="later">What is.</param>
    /// <param name="repeats">Pairs of runs of the same code on such a machine, from which what two runs differ by is learnt; none is
    /// fine.</param>
    /// <param name="marginShare">The smallest difference that matters, as a share.</param>
    /// <param name="level">Level at which the intervals are to hold together; 0.95 by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static RunComparison Of(
        RunSummary earlier, RunSummary later, IReadOnlyList<(RunSummary One, RunSummary Other)> repeats, double marginShare,
            double level = 0.95)
    {
        ArgumentNullException.ThrowIfNull(earlier);
        ArgumentNullException.ThrowIfNull(later);
        ArgumentNullException.ThrowIfNull(repeats);
        var then = earlier.Cells.ToDictionary(cell => cell.Name);
        var now = later.Cells.ToDictionary(cell => cell.Name);
        var shared = later.Cells.Where(cell => then.ContainsKey(cell.Name)).Select(cell => (Earlier: then[cell.Name], Later: cell))
            .ToList();
        var studies = shared.Select(pair => pair.Later.Study).ToHashSet();
        var isQuiet = shared.TrueForAll(pair => pair.Earlier.IsQuiet && pair.Later.IsQuiet);
        var between = BetweenRuns.Of(repeats, isQuiet, cell => studies.Contains(cell.Study));
        var areAlike = earlier.Machine == later.Machine;
        var differences = shared.ConvertAll(pair => CellDifference.Of(pair.Earlier, pair.Later, areAlike));
        var levels = FamilyLevels.Of(differences.ConvertAll(difference => difference.Probability(between)), level);
        var works = shared.ConvertAll(pair => CellWork.Difference(pair.Earlier.Work, pair.Later.Work));
        // What the same code answers otherwise, it answers otherwise every time, or it reads what is no input.
        var anew = NamesOfAnew([.. repeats, .. earlier.Code.Stamp is { } stamp && stamp == later.Code.Stamp ? [(earlier, later)]
            : ((RunSummary, RunSummary)[])[]]);
        return new RunComparison
        {
            Earlier = earlier,
            Later = later,
            Changes = [.. shared.Select((pair, index) => Change(pair.Earlier, pair.Later, differences[index], levels.Tests[index]) with
            {
                Work = works[index] is { IsInput: true } || !anew.Contains(pair.Later.Name) ? works[index] : null,
            })],
            AnsweringAnew = [.. shared.Where((pair, index) => works[index] is { IsInput: false } && anew.Contains(pair.Later.Name))
                .Select(pair => pair.Later)],
            OnlyEarlier = [.. earlier.Cells.Where(cell => !now.ContainsKey(cell.Name))],
            OnlyLater = [.. later.Cells.Where(cell => !then.ContainsKey(cell.Name))],
            Between = between,
            MarginShare = marginShare,
            Level = level,
        };

        CellChange Change(CellSummary was, CellSummary then, CellDifference difference, double testLevel)
        {
            if (was.IsBound || then.IsBound)
            {
                return new CellChange(was, then, Interval.Unknown(level), Interval.Unknown(level), Bounded(was, then, marginShare));
            }

            var (ratio, verdict) = Judge.Decide(
                at => difference.At(between, at), testLevel, levels.Quoted, Judge.SmallestResolutionShare, marginShare);
            return new CellChange(was, then, ratio, difference.At(between, levels.OneSided), verdict);
        }
    }

    private static HashSet<(string, string, string, string)> NamesOfAnew(IEnumerable<(RunSummary One, RunSummary Other)> ofOneCode)
    {
        HashSet<(string, string, string, string)> found = [];
        foreach (var (one, other) in ofOneCode)
        {
            var others = other.Cells.ToDictionary(cell => cell.Name, cell => cell.Work);
            found.UnionWith(one.Cells.Where(cell => CellWork.Difference(cell.Work, others.GetValueOrDefault(cell.Name))
                is { IsInput: false }).Select(cell => cell.Name));
        }

        return found;
    }

    // A time that is at most so much is told apart from one that is well above it, and from no other.
    private static Verdict Bounded(CellSummary was, CellSummary now, double marginShare) => (was.IsBound, now.IsBound) switch
    {
        (true, false) when Lowest(now) > was.Nanoseconds * (1 + marginShare) => Verdict.Slower,
        (false, true) when now.Nanoseconds * (1 + marginShare) < Lowest(was) => Verdict.Faster,
        _ => Verdict.Unclear,
    };

    private static double Lowest(CellSummary cell)
        => cell.Nanoseconds * (1 - (SampleMean.Quantile(Math.Max(1, SampleMean.Freedom(cell.Sittings)), 0.95) * cell.LogError));
}
