using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What is wrong with the study: its answers, its baseline and twins, what its variants were seen to do.</summary>
internal static class StudyCaveats
{
    private const double TwinLevel = 0.99;

    public static IEnumerable<Caveat> Find(CaveatGround ground)
        => OfAnswers(ground)
            .Concat(ground.Findings.Inputs.SelectMany(OfBaseline))
            .Concat(OfTwins(ground))
            .Concat(OfRepeats(ground))
            .Concat(ground.Findings.Inputs.SelectMany(input => OfPool(ground.Findings, input)))
            .Concat(OfIncidents(ground));

    private static IEnumerable<Caveat> OfAnswers(CaveatGround ground)
    {
        var disagreeing = ground.Record.Failures.Where(failure => failure.Kind == CellFailureKind.Disagrees).ToList();
        if (disagreeing.Count > 0)
        {
            yield return new Caveat
            {
                Name = "answers-disagree",
                Subject = string.Join("; ", disagreeing.Select(failure => ground.Subject(failure.Variant, failure.Input))),
                Evidence = $"{disagreeing[0].Reason}; what does not do the same job is not timed",
                WayOut = "mend the variant, or say with Agree(…), in try with --agree, what may differ",
            };
        }

        foreach (var seen in ground.Record.Observations)
        {
            var (name, meaning, wayOut) = seen.Kind switch
            {
                ObservationKind.ChangesInput
                    => ("input-changed", "later calls worked on what earlier ones had left",
                        "declare it with ChangesInput(), and every call gets an input of its own"),
                ObservationKind.NotComparedAcross => ("answers-uncompared", "what does not do the same job is not to be compared",
                    "see that both do the same job; answers of numbers, words and sequences of them, exactly or within a tolerance, "
                        + "are compared for you"),
                ObservationKind.AnswersLater => ("answers-late", "the work is done when somebody uses the answer, outside the timing",
                    "return the finished answer, or the sequence or task by its own type, which is then gone through or awaited"),
                _ => ("ignores-input", "it may not do the work at all",
                    "look whether it reads its input; give inputs whose answers differ"),
            };
            yield return new Caveat { Name = name, Subject = ground.Subject(seen.Variant, seen.Input),
                Evidence = $"{seen.Evidence}: {meaning}", WayOut = wayOut };
        }
    }

    // Beside the one input that the pool has many of.
    private static IEnumerable<Caveat> OfPool(StudyFindings findings, InputFindings pool)
    {
        var single = pool.Input.Pool is null ? null : findings.Inputs.FirstOrDefault(
            input => input.Input.Pool is null && pool.Input.Label == Text($"{pool.Input.Pool:N0} × {input.Input.Label}"));
        if (single is null)
        {
            yield break;
        }

        var turned = pool.Pairs.Join(
            single.Pairs, pair => (pair.Row, pair.Other), pair => (pair.Row, pair.Other), (many, one) => (Many: many, One: one))
            .Where(pair => pair.Many.Verdict is Verdict.Faster or Verdict.Slower && pair.One.Verdict == pair.Many.Verdict.Reversed())
            .Select(pair => pair.Many.Verdict == Verdict.Faster ? pair : (Many: pair.Many.Reversed(), One: pair.One.Reversed()))
            .OrderBy(pair => pair.Many.TimeRatio.Estimate).ToList();
        if (turned.Count > 0)
        {
            var (many, one) = turned[0];
            yield return new Caveat
            {
                Name = "pool-turns-order",
                Subject = pool.Input.Label,
                Evidence = Text($"{findings.Study.Variants[many.Row].Name} takes {one.TimeRatio.Estimate:0.00} times ")
                    + Text($"{findings.Study.Variants[many.Other].Name}'s time on one input, ")
                    + "which caches and branch predictor learn by heart, "
                    + Text($"and {many.TimeRatio.Estimate:0.00} times on {pool.Input.Pool:N0} alike"),
                WayOut = "believe the pool, unless your program works on one and the same object again and again",
            };
        }
    }

    private static IEnumerable<Caveat> OfIncidents(CaveatGround ground)
        => ground.Record.Incidents.GroupBy(incident => incident.Kind).Select(alike => alike.Key switch
        {
            WorkerIncidentKind.Replaced => new Caveat
            {
                Name = "worker-replaced",
                Evidence = $"a worker was lost and another took its place: {Together(alike)}",
                WayOut = "see that nothing ends processes on this machine and that memory suffices; the sittings shown are whole",
            },
            _ => new Caveat
            {
                Name = "left-processes",
                Evidence = $"processes that an operation had started went on when its worker ended, and were ended: {Together(alike)}",
                WayOut = "end in the operation what it starts, or it runs on beside what is read next",
            },
        });

    private static string Together(IEnumerable<WorkerIncident> incidents)
        => string.Join("; ", incidents.Select(incident => incident.Evidence));

    private static IEnumerable<Caveat> OfBaseline(InputFindings input)
    {
        if (input.Cells.Any(cell => cell.Variant is { IsBaseline: true } and not { Part: VariantPart.Prepare } && cell.Failure is not null))
        {
            yield return new Caveat
            {
                Name = "no-baseline",
                Subject = input.Input.Label,
                Evidence = "the baseline has no figures here, so nothing can be compared with it",
                WayOut = "mend the baseline or make another variant the baseline",
            };
        }
    }

    private static IEnumerable<Caveat> OfTwins(CaveatGround ground)
    {
        var margin = ground.Findings.MarginShare;
        var coarse = ground.Findings.Inputs.Where(input => input.ResolutionShare > margin && double.IsFinite(input.ResolutionShare))
            .ToList();
        if (coarse.Count > 0)
        {
            yield return new Caveat
            {
                Name = "coarse",
                Subject = string.Join("; ", coarse.Select(input => input.Input.Label)),
                Evidence = Text($"two copies of the baseline may differ by up to {coarse.Max(input => input.ResolutionShare):P1}, ",
                    $"more than the margin of {margin:P1}"),
                WayOut = "allow more time with --within; where it stays, memory layout decides and no time will help",
            };
        }

        for (var input = 0; input < ground.Findings.Inputs.Count; input++)
        {
            var twin = TwinRatio(ground, input);
            if (twin.IsBounded && (twin.Lower > 1 + margin || twin.Upper < 1 / (1 + margin)))
            {
                yield return new Caveat
                {
                    Name = "twins-told-apart",
                    Subject = ground.Findings.Inputs[input].Input.Label,
                    Evidence = Text($"two copies of the baseline differ by {Math.Abs(twin.Estimate - 1):P1}, although they are the ",
                        $"same code on equal inputs"),
                    WayOut = "believe no difference of that size; look for state that two copies share, such as a cache that the "
                        + "first one fills",
                };
            }
        }
    }

    private static Interval TwinRatio(CaveatGround ground, int input)
    {
        var variants = ground.Record.Study.Variants;
        var baseline = Enumerable.Range(0, variants.Count)
            .FirstOrDefault(row => variants[row] is { IsBaseline: true } and not { Part: VariantPart.Prepare });
        return SampleStatistics.MeanInterval(new Pairing(ground.View).Twin(baseline, input), TwinLevel).Through(Math.Exp);
    }

    private static IEnumerable<Caveat> OfRepeats(CaveatGround ground)
    {
        var margin = ground.Findings.MarginShare;
        foreach (var input in ground.Findings.Inputs)
        {
            foreach (var cell in input.Cells)
            {
                var ratios = cell.Contrast?.Repeats.Select(repeat => repeat.TimeRatio).Where(ratio => ratio.IsBounded).ToList() ?? [];
                var highest = ratios.Select(ratio => ratio.Lower).DefaultIfEmpty(double.NaN).Max();
                var lowest = ratios.Select(ratio => ratio.Upper).DefaultIfEmpty(double.NaN).Min();
                var spread = ratios.Count == 0 ? 0 : (ratios.Max(ratio => ratio.Estimate) / ratios.Min(ratio => ratio.Estimate)) - 1;
                if (highest > lowest && spread > margin)
                {
                    yield return new Caveat
                    {
                        Name = "repeats-disagree",
                        Subject = Subject(cell, input),
                        Evidence = Text($"the repeats differ by {spread:P1}, more than their intervals allow"),
                        WayOut = "something changes from one comparison to the next: repeat more often, and believe the spread of the "
                            + "repeats rather than one interval",
                    };
                }
            }
        }
    }
}
