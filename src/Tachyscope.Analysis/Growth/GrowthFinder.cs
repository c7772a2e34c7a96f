using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Growth;

/// <summary>Finds how rows grow along each axis of sizes, where they cross, and which is best where.</summary>
internal static class GrowthFinder
{
    public static IEnumerable<GrowthFindings> Find(SittingsView view, Ranker[] rankers)
    {
        var inputs = view.Record.Study.Inputs;
        var axes = inputs.SelectMany(input => input.Sizes).Select(size => size.Axis).Distinct();
        return from axis in axes
               from slice in Enumerable.Range(0, inputs.Count).Where(input => Size(inputs[input], axis) > 0)
                   .GroupBy(input => Others(inputs[input], axis))
               let sized = slice.OrderBy(input => Size(inputs[input], axis)).ToList()
               where sized.Count > 1
               from threads in sized.SelectMany(input => rankers[input].Groups)
                   .Select(rows => view.Record.Study.Variants[rows[0]].Loop.Threads).Distinct()
               select new Slice(view, rankers, axis, slice.Key, sized, threads).Findings();
    }

    private static int Size(InputDescription input, string axis) => input.Sizes.FirstOrDefault(size => size.Axis == axis)?.Value ?? 0;

    private static string? Others(InputDescription input, string axis)
        => input is { Sizes.Count: < 2, Pool: null } ? null
            : string.Join(", ", input.Sizes.Where(size => size.Axis != axis).Select(size => size.ToString())
                .Concat(input.Pool is { } count ? [FormattableString.Invariant($"{count:N0} alike")] : (string[])[]));

    private sealed class Slice(SittingsView view, Ranker[] rankers, string axis, string? where, List<int> inputs, int? threads)
    {
        private readonly int[] _sizes = [.. inputs.Select(input => Size(view.Record.Study.Inputs[input], axis))];

        // One that failed at some size is left out there only.
        private readonly List<int> _rows = [.. inputs.SelectMany(input => rankers[input].Groups)
            .Where(group => view.Record.Study.Variants[group[0]].Loop.Threads == threads)
            .SelectMany(group => group).Distinct().Order()];

        public GrowthFindings Findings()
        {
            var crossovers = Crossovers().ToList();
            return new GrowthFindings
            {
                Axis = axis,
                Where = where,
                Threads = threads,
                Sizes = _sizes,
                Variants = [.. _rows.Select(Growth)],
                Crossovers = crossovers,
                Bands = [.. Bands(crossovers)],
            };
        }

        private VariantGrowth Growth(int row)
        {
            var sound = Enumerable.Range(0, inputs.Count).Where(index => view.Failure(row, inputs[index]) is null).ToList();
            // What is only known to be at most so much says nothing of growth.
            var measured = sound.Where(index => view.Time(row, inputs[index]).IsMeasured).ToList();
            double[][] times = [.. measured.Select(index => view.Times(row, inputs[index]))];
            int[] sizes = [.. measured.Select(index => _sizes[index])];
            double[] exponents = [.. Enumerable.Range(0, view.Sittings).Select(sitting => TheilSen.Slope(
                [.. sizes.Select((size, position) => (Math.Log(size), Math.Log(times[position][sitting])))]))];
            var laws = LawFitter.Fit(sizes, times, view.Level);
            return new VariantGrowth
            {
                Row = row,
                Points = [.. sound.Select(index => (_sizes[index], view.Time(row, inputs[index])))],
                Exponent = SampleStatistics.MeanInterval(exponents, view.Level),
                Law = laws.Count == 0 ? null : laws[0],
                // Any law with little growth beside its fixed part is as good as none.
                AlsoFitting = laws.Count > 0 && laws[0].Law == GrowthLaw.Constant ? [] : [.. laws.Skip(1).Select(law => law.Law)],
            };
        }

        private IEnumerable<Crossover> Crossovers()
            => from first in Enumerable.Range(0, _rows.Count)
               from second in Enumerable.Range(first + 1, _rows.Count - first - 1)
               from crossover in Crossovers(_rows[first], _rows[second])
               select crossover;

        private IEnumerable<Crossover> Crossovers(int one, int other)
        {
            int? decided = null;
            bool IsMeasured(int row, int point) => view.Time(row, inputs[point]).IsMeasured;
            var verdicts = inputs.ConvertAll(input => rankers[input].Contrasts.Verdict(one, other));
            for (var index = 0; index < inputs.Count; index++)
            {
                if (verdicts[index] is not (Verdict.Faster or Verdict.Slower))
                {
                    continue;
                }

                if (decided is { } before && verdicts[before] != verdicts[index])
                {
                    var between = Enumerable.Range(before, index - before + 1).ToList();
                    yield return new Crossover
                    {
                        Below = verdicts[before] == Verdict.Faster ? one : other,
                        Above = verdicts[before] == Verdict.Faster ? other : one,
                        LastBelow = _sizes[before],
                        FirstAbove = _sizes[index],
                        Size = !between.TrueForAll(point => IsMeasured(one, point) && IsMeasured(other, point))
                            ? Interval.Unknown(view.Level)
                            : CrossoverFinder.Find([.. between.Select(point => Point(one, other, point))], view.Level),
                    };
                }

                decided = index;
            }
        }

        private CrossingPoint Point(int one, int other, int point)
            => new(_sizes[point], view.Times(other, inputs[point]), rankers[inputs[point]].Contrasts.Ratio(one, other).Logs);

        private IEnumerable<SizeBand> Bands(List<Crossover> crossovers)
        {
            var leaders = inputs.ConvertAll(Leaders);
            var bands = new List<(int Row, int First, int Last)>();
            for (var first = 0; first < inputs.Count && leaders.TrueForAll(rows => rows.Count > 0);)
            {
                // Whoever leads longest from here on; the fastest here among those that lead as long.
                var (row, last) = leaders[first]
                    .Select(row => (Row: row, Last: first + leaders[first..].TakeWhile(rows => rows.Contains(row)).Count() - 1))
                    .MaxBy(band => band.Last);
                bands.Add((row, first, last));
                first = last + 1;
            }

            return bands.Select((band, index) => Band(band, leaders) with
            {
                Until = index + 1 == bands.Count ? null
                    : crossovers.Where(crossover => crossover.Below == band.Row && crossover.Above == bands[index + 1].Row
                        && crossover.FirstAbove > _sizes[band.First])
                        .Select(crossover => (Interval?)crossover.Size).FirstOrDefault(),
            });
        }

        private SizeBand Band((int Row, int First, int Last) band, List<List<int>> leaders)
        {
            var sizes = Enumerable.Range(band.First, band.Last - band.First + 1).ToList();
            var losses = sizes.ConvertAll(size => Lost(band.Row, size));
            return new SizeBand
            {
                Row = band.Row,
                Ties = [.. leaders[band.First].Where(row => row != band.Row && sizes.TrueForAll(size => leaders[size].Contains(row)))],
                IsFastest = sizes.TrueForAll(size => Sound(inputs[size]).TrueForAll(other => other == band.Row
                    || rankers[inputs[size]].Contrasts.Verdict(band.Row, other) == Verdict.Faster)),
                Loss = new Loss(losses.Max(loss => loss.EstimateShare), losses.Max(loss => loss.WorstShare)),
                FirstSize = _sizes[band.First],
                LastSize = _sizes[band.Last],
            };
        }

        private Loss Lost(int row, int size) => Loss.Among(row, Sound(inputs[size]), rankers[inputs[size]].Contrasts.Find);

        private List<int> Sound(int input) => [.. _rows.Where(row => view.Failure(row, input) is null && view.Time(row, input).IsKnown)];

        // The one with the least time, and all that lose little against it by their estimates and are not shown to lose.
        private List<int> Leaders(int input)
        {
            var contrasts = rankers[input].Contrasts;
            var rows = contrasts.ByTime(Sound(input));
            return [.. rows.Where(row => row == rows[0]
                || (contrasts.Verdict(row, rows[0]) != Verdict.Slower && Loss.Among(row, rows, contrasts.Find).IsSmall))];
        }
    }
}
