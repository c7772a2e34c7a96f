using Tachyscope.Lab.Answers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Shares;

/// <summary>A run of a share, and where it was read from.</summary>
/// <param name="File">The file, as it is spoken of.</param>
/// <param name="Run">The run.</param>
public sealed record ShareRun(string File, Run Run);

/// <summary>Joins the runs of a plan's shares. Pure.</summary>
/// <remarks>
/// Studies are joined as they are: each was measured on one machine as a whole. Kinds of machine become targets of the run, the first
/// of them the one others are compared with; with several targets each kind has all of them.
/// </remarks>
public sealed record ShareMerge
{
    /// <summary>All in one run; null where something does not belong together, or there is nothing.</summary>
    public Run? Run { get; private init; }

    /// <summary>What does not belong together, each in a sentence with the way out.</summary>
    public IReadOnlyList<string> Problems { get; private init; } = [];

    /// <summary>Shares of which nothing came back.</summary>
    public IReadOnlyList<RunShare> Missing { get; private init; } = [];

    /// <summary>Shares whose run ended early; what it holds is taken.</summary>
    public IReadOnlyList<RunShare> Cut { get; private init; } = [];

    /// <summary>Joins runs.</summary>
    /// <param name="runs">The runs.</param>
    /// <param name="machines">Kinds of machine the plan has, in its order; those that are met by default.</param>
    /// <param name="isInsisted">Whether runs of machines or runtimes that are not alike are joined as if they were.</param>
    /// <exception cref="ArgumentNullException"><paramref name="runs"/> is null.</exception>
    public static ShareMerge Of(IReadOnlyList<ShareRun> runs, IReadOnlyList<string?>? machines = null, bool isInsisted = false)
    {
        ArgumentNullException.ThrowIfNull(runs);
        var strangers = runs.Where(run => run.Run.Share is null).Select(run =>
            $"{run.File} is a run of its own and no share of a plan; name what tachyscope run --share wrote.").ToList();
        if (strangers.Count > 0 || runs.Count == 0)
        {
            return new ShareMerge { Problems = runs.Count == 0
                ? ["there is no run to merge; measure shares with tachyscope run --share first."] : strangers };
        }

        string?[] kinds = [.. machines ?? [.. runs.Select(run => run.Run.Share!.Machine).Distinct().Order(StringComparer.Ordinal)]];
        var (taken, twice) = Taken(runs);
        List<string> problems = [.. Mixed(runs), .. twice, .. isInsisted ? [] : kinds.SelectMany(kind => Unlike(Of(taken, kind)))];
        if (problems.Count == 0)
        {
            problems.AddRange(Otherwise(taken));
        }

        if (problems.Count > 0)
        {
            return new ShareMerge { Problems = problems };
        }

        var count = taken[0].Run.Share!.Count;
        var missing = (from kind in kinds
                       from number in Enumerable.Range(1, count)
                       where !taken.Exists(run => run.Run.Share!.Machine == kind && run.Run.Share.Number == number)
                       select taken[0].Run.Share! with { Machine = kind, Number = number }).ToList();
        var cut = taken.Where(run => run.Run.State != RunState.Complete).Select(run => run.Run.Share!).ToList();
        return new ShareMerge
        {
            Run = Joined(taken, [.. kinds.Where(kind => Of(taken, kind).Count > 0)]) with
            {
                State = cut.Count > 0 ? RunState.Interrupted : RunState.Complete,
            },
            Missing = missing,
            Cut = cut,
        };
    }

    private static List<ShareRun> Of(List<ShareRun> runs, string? machine)
        => [.. runs.Where(run => run.Run.Share!.Machine == machine).OrderBy(run => run.Run.Share!.Number)];

    // A share that failed was run again: what is whole counts, else what came last.
    private static (List<ShareRun> Taken, List<string> Problems) Taken(IReadOnlyList<ShareRun> runs)
    {
        var (taken, problems) = (new List<ShareRun>(), new List<string>());
        foreach (var same in runs.GroupBy(run => (run.Run.Share!.Machine, run.Run.Share.Number)))
        {
            var whole = same.Where(run => run.Run.State == RunState.Complete).ToList();
            if (whole.Count > 1)
            {
                problems.Add($"{string.Join(" and ", whole.Select(run => run.File))} are the same share; name one of them.");
            }

            taken.Add(whole.Count > 0 ? whole[0] : same.MaxBy(run => run.Run.Started)!);
        }

        return (taken, problems);
    }

    private static IEnumerable<string> Mixed(IReadOnlyList<ShareRun> runs)
    {
        foreach (var (what, of, wayOut) in ((string, Func<Run, string?>, string)[])
            [
                ("belongs to plan", run => run.Share!.Plan, "merge the shares of one plan at a time"),
                ("was measured by tachyscope", run => run.Tool, "measure all with one version"),
                ("was measured at commit", run => run.Code is { IsDirty: false, Commit: { } commit } ? commit
                    : null, "measure all at one commit"),
            ])
        {
            var first = runs[0];
            if (runs.FirstOrDefault(run => of(run.Run) != of(first.Run)) is { } other)
            {
                yield return $"{first.File} {what} {of(first.Run) ?? "unknown, with changes"}, and {other.File} {what} "
                    + $"{of(other.Run) ?? "unknown, with changes"}; {wayOut}.";
                yield break;
            }
        }
    }

    // Within a kind, where studies stand beside each other as if one machine had measured them.
    private static IEnumerable<string> Unlike(List<ShareRun> runs)
    {
        foreach (var (of, what, wayOut) in ((Func<Run, string?>, string, string)[])
            [
                (run => run.Machine.Processor, "on", "plan with a --machine for each kind"),
                (run => run.Environment.Runtime, "by", "measure all with one runtime"),
                (run => run.Targets.Count == 0 ? run.Code?.Stamp
                    : null, "with compiled code", "build all with one SDK, from the same sources"),
            ])
        {
            if (runs.Find(run => of(run.Run) != of(runs[0].Run)) is { } other)
            {
                yield return $"{runs[0].File} was measured {what} {of(runs[0].Run)}, and {other.File} {what} {of(other.Run)}; {wayOut}, or "
                    + "merge all the same with --insist.";
            }
        }
    }

    // The same study, of the same rows and inputs, wherever it was measured.
    private static IEnumerable<string> Otherwise(List<ShareRun> runs)
        => from found in runs.SelectMany(run => run.Run.Studies.Select(study => (run.File, study.Study)))
           group found by found.Study.Name into same
           let first = same.First()
           let other = same.FirstOrDefault(found => !Shape(found.Study).SequenceEqual(Shape(first.Study)))
           where other.File is not null
           select $"study \"{same.Key}\" has other rows or inputs in {other.File} than in {first.File}; measure all from the same sources.";

    private static IEnumerable<string> Shape(StudyDescription study)
        => [.. study.Variants.Select(row => row.Name), "", .. study.Inputs.Select(input => input.Label)];

    private static Run Joined(List<ShareRun> runs, string?[] kinds)
    {
        var first = Of(runs, kinds[0])[0].Run;
        var each = Math.Max(1, first.Targets.Count);
        var studies = runs.OrderBy(run => run.Run.Share!.Number).SelectMany(run => run.Run.Studies.Select(study => study.Study.Name))
            .Distinct();
        return first with
        {
            Share = null,
            Command = null,
            Started = runs.Min(run => run.Run.Started),
            ClockStepSeconds = runs.Select(run => run.Run.ClockStepSeconds).MaxBy(Math.Abs),
            // What one machine can do at most is no limit of another, and what calls take there is its own.
            Limits = kinds.Length == 1 ? first.Limits : null,
            QuietCallCycles = kinds.Length == 1 ? first.QuietCallCycles : null,
            Plan = first.Plan with { Only = [] },
            Targets = kinds.Length == 1 ? first.Targets : [.. kinds.SelectMany(kind => Targets(kind, Of(runs, kind)[0].Run))],
            Studies = [.. studies.Select(name => Compared(Joined(name, runs, kinds, each), kinds, each))],
        };
    }

    private static StudyRecord Joined(string name, List<ShareRun> runs, string?[] kinds, int each)
    {
        var found = kinds.Select((kind, index) => (Kind: kind, First: index * each, Records: Of(runs, kind)
            .SelectMany(run => run.Run.Studies).Where(study => study.Study.Name == name).ToList())).ToList();
        var joined = found.SelectMany(there => there.Records.Select(study => Moved(study, there.First))).Aggregate(Added);
        return joined with
        {
            Failures = [.. joined.Failures, .. from there in found
                where there.Records.Count == 0
                from target in Enumerable.Range(there.First, each)
                from input in Enumerable.Range(0, joined.Study.Inputs.Count)
                from variant in Enumerable.Range(0, joined.Study.Variants.Count)
                select new CellFailure
                {
                    Variant = variant, Input = input, Target = target, Kind = CellFailureKind.Missing,
                    Reason = $"the share of {there.Kind} that holds it is missing",
                }],
        };
    }

    // What a row answers on another kind of machine than on the first: within a share that was done before anything was timed.
    private static StudyRecord Compared(StudyRecord joined, string?[] kinds, int each)
    {
        var across = new AnswersAcross(joined.Study, [.. kinds.SelectMany(kind => Enumerable.Repeat(kind ?? "the first", each))]);
        foreach (var answer in (joined.Answers ?? []).OrderBy(answer => answer.Target))
        {
            across.Hear(answer);
        }

        // Those on several targets of one kind were told when they were measured.
        var failed = joined.Failures.Select(failure => (failure.Variant, failure.Input, failure.Target)).ToHashSet();
        bool IsNew(int variant, int input, int target)
            => kinds.Length > 1 && target >= each && !failed.Contains((variant, input, target));
        return joined with
        {
            Answers = joined.Answers is null ? null : [.. joined.Answers.Select(answer => AnswersAcross.Kept(answer, isWhole: false))],
            Failures = [.. joined.Failures, .. across.Failures.Where(failure => IsNew(failure.Variant, failure.Input, failure.Target))],
            Observations = [.. joined.Observations, .. across.Observations.Where(seen => IsNew(seen.Variant, seen.Input, seen.Target))],
        };
    }

    private static IEnumerable<TargetDescription> Targets(string? kind, Run run) => run.Targets.Count == 0
        ? [new TargetDescription
            {
                Name = kind ?? run.Machine.Processor, Environment = run.Environment, Machine = run.Machine, Commit = run.Code?.Commit,
                IsDirty = run.Code?.IsDirty ?? false,
            }]
        : run.Targets.Select(target => target with { Name = $"{kind} · {target.Name}", Machine = run.Machine });

    // To the targets of its kind.
    private static StudyRecord Moved(StudyRecord study, int by) => by == 0 ? study : study with
    {
        Sittings = [.. study.Sittings.Select(sitting => sitting with
        {
            Cells = [.. sitting.Cells.Select(cell => cell with { Target = cell.Target + by })],
            LowGauges = sitting.LowGauges.Count == 0 ? [] : [.. Enumerable.Repeat(0, by), .. sitting.LowGauges],
        })],
        Failures = [.. study.Failures.Select(failure => failure with { Target = failure.Target + by })],
        Observations = [.. study.Observations.Select(seen => seen with { Target = seen.Target + by })],
        Diagnoses = [.. study.Diagnoses.Select(found => found with { Target = found.Target + by })],
        Answers = study.Answers is { } answers ? [.. answers.Select(answer => answer with { Target = answer.Target + by })] : null,
    };

    private static StudyRecord Added(StudyRecord study, StudyRecord other) => study with
    {
        Sittings = [.. study.Sittings,
            .. other.Sittings.Select(sitting => sitting with { Number = sitting.Number + study.Sittings.Count })],
        Failures = [.. study.Failures, .. other.Failures],
        Observations = [.. study.Observations, .. other.Observations],
        Diagnoses = [.. study.Diagnoses, .. other.Diagnoses],
        Incidents = [.. study.Incidents, .. other.Incidents],
        Answers = study.Answers is null && other.Answers is null ? null : [.. study.Answers ?? [], .. other.Answers ?? []],
        Note = study.Note ?? other.Note,
    };
}
