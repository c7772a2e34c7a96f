using System.Text.RegularExpressions;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Searches;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Commands;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Histories;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Pinpoints;

/// <summary>
/// Searches a row of commits for the one that changed a cell: measures the ends, then the middle beside both, in one interleaved run each,
/// for as long as it takes to tell.
/// </summary>
internal sealed partial class ChangeHunt(Surroundings around, RunDisplay display, Preparation preparation, HuntAsk ask) : IDisposable
{
    private const double UsualSeconds = 1_200;
    private const double MostSecondsARun = 60;
    private const double LeastSecondsARun = 2;

    // Without knowing what changed there is nothing to look for.
    private const double ShareForEnds = 0.25;

    // What counts bytes needs one sitting.
    private const double SecondsForBytes = 2;

    private static readonly AnalysisOptions Contrasts = new() { AreContrastsOnly = true };

    private readonly ChangeSearch _search = new(ask.Commits.Count - 1);
    private readonly Dictionary<int, PreparedTarget> _ready = [];
    private readonly Dictionary<int, string?> _stamps = [];
    private readonly HashSet<int> _looked = [];
    private readonly List<(string Commit, string Reason)> _untold = [];
    private HuntedCell _cell = null!;
    private double _spentSeconds;
    private HuntedCell _pair = null!;
    private int _sameCode;

    public void Dispose()
    {
        foreach (var target in _ready.Values)
        {
            target.Dispose();
        }
    }

    /// <summary>Searches.</summary>
    /// <returns>What was found, or the exit code of what was complained of.</returns>
    public async Task<(PinpointFindings? Found, int ExitCode)> RunAsync(CancellationToken cancellation)
    {
        var (low, high) = (_search.Low, _search.High);
        foreach (var end in (int[])[low, high])
        {
            if (await MakeAsync(end, cancellation) is { Starter: null } failed)
            {
                return (null, await preparation.ComplainAsync(ask.Project, failed));
            }
        }

        if (IsSameCode(low, high))
        {
            return (null, await around.ComplainAsync(
                [ask.IsStudyHidden
                    ? $"{ask.Good} and {ask.Bad} compile to the same code with one study laid over both; what changed in the study's own "
                        + "folder is looked for with --study own."
                    : $"{ask.Good} and {ask.Bad} compile to the same code, so that no commit between them changed anything."],
                ExitCode.Failed));
        }

        if (ask.IsStudyHidden)
        {
            display.Say("the study's own folder changed too, which one study laid over every commit hides; --study own measures each with "
                + "its own");
        }

        if (await ChooseAsync(low, high, cancellation) is { } complained)
        {
            return (null, complained);
        }

        // The last run is for the two on either side of the change.
        while (SecondsLeft >= LeastSecondsARun + SecondsARun && _search.Next is { } at)
        {
            await LookAsync(at, low, high, cancellation);
        }

        await ConfirmAsync(cancellation);
        return (Found(), ExitCode.Fine);
    }

    private double SecondsLeft => (ask.Plan.WithinSeconds ?? UsualSeconds) - _spentSeconds;

    private double SecondsARun => Math.Min(MostSecondsARun, Math.Max(LeastSecondsARun, SecondsLeft / (_search.LooksLeft + 1)));

    private async Task<int?> ChooseAsync(int low, int high, CancellationToken cancellation)
    {
        IReadOnlyList<HuntedCell> cells = [];
        var outcome = await MeasureAsync([low, high], SecondsLeft * ShareForEnds, ask.Plan.Only, null, found =>
        {
            cells = HuntedCell.All(found, ask.Cell, ask.IsByBytes);
            return ask.IsByBytes == true || cells.Any(cell => cell is { IsByBytes: false, IsTight: true });
        }, cancellation);
        if (outcome.Run is not { Studies.Count: > 0 } run)
        {
            return await around.ComplainAsync(outcome.Refusals, outcome.CouldNotRun ? ExitCode.CouldNotRun : ExitCode.WrongUse);
        }

        StudyOnTargets[] all = [.. run.Studies.Select(study => TargetAnalyst.Examine(run, study, Contrasts))];
        cells = HuntedCell.All(all, ask.Cell, ask.IsByBytes);
        if (cells.FirstOrDefault(cell => cell.IsChanged) is { } cell)
        {
            _cell = cell;
            _pair = cell;
            display.Say($"{ask.Good} to {ask.Bad}: {cell.Study} · {cell.Name} {Change(cell)}; {ask.Commits.Count - 1} commits, about "
                + $"{_search.LooksLeft} to measure");
            return null;
        }

        var failures = run.Studies.SelectMany(study => study.Failures.Select(failure =>
            $"{study.Study.Name} · {study.Study.Variants[failure.Variant].Name} · {study.Study.Inputs[failure.Input].Label} "
                + $"{failure.Reason}"));
        var known = HuntedCell.All(all, "", null);
        return await around.ComplainAsync(
            cells.Count == 0 && known.Count > 0
                ? [$"--cell {ask.Cell}: no cell has that in its name; there are "
                    + $"{string.Join(", ", known.Select(other => $"{other.Study} · {other.Name}"))}."]
                : [.. failures.Distinct(), cells.Count == 0 ? "no cell could be measured on both revisions."
                    : $"nothing is told to have changed from {ask.Good} to {ask.Bad}: {Told(cells)}; "
                        + (ask.IsByBytes == true ? "" : "raise --within, or ") + "name revisions that lie further apart."],
            cells.Count == 0 && known.Count > 0 ? ExitCode.WrongUse : ExitCode.Failed);
    }

    private string Told(IReadOnlyList<HuntedCell> cells)
    {
        if (ask.IsByBytes == true)
        {
            return $"all {cells.Count} cells allocate as many bytes as before";
        }

        var cell = cells.MaxBy(other => Math.Abs(Math.Log(other.TimeRatio.Estimate)))!;
        return $"the most is {cell.Study} · {cell.Name}, {Quantity.Factor(cell.TimeRatio)}";
    }

    private static string Change(HuntedCell cell) => cell.IsByBytes
        ? $"allocates {Quantity.Bytes(cell.BytesBefore)} → {Quantity.Bytes(cell.Bytes)}" : $"takes {Quantity.Factor(cell.TimeRatio)}";

    // A commit beside both ends of all.
    private async Task LookAsync(int at, int low, int high, CancellationToken cancellation)
    {
        var made = _ready.TryGetValue(at, out var ready) ? ready : await MakeAsync(at, cancellation);
        if (made.Starter is null)
        {
            Skip(at, made.Errors.Count == 0 ? "does not build"
                : $"does not build: {BuildError().Replace(made.Errors[0], "").TrimEnd('.')}");
            return;
        }

        if (made.Code.Stamp is { } stamp && !_looked.Contains(at)
            && _stamps.Where(other => other.Key != at && other.Value == stamp).Select(other => (int?)other.Key)
                .FirstOrDefault() is { } same)
        {
            _sameCode++;
            _search.Same(Math.Min(at, same), Math.Max(at, same));
            // Who asks again asks the other.
            _search.Skip(at);
            Say(at, $"compiles to the same code as {Short(same)}");
            return;
        }

        var evidence = default(ChangeEvidence);
        HuntedCell? toLow = null, toHigh = null;
        var outcome = await MeasureAsync([at, low, high], SecondsARun, [_cell.Study], _cell.IsMeant, found =>
        {
            (evidence, toLow, toHigh) = Read(found);
            return evidence.IsSure;
        }, cancellation);
        _looked.Add(at);
        if (outcome.Run is { Studies.Count: > 0 } run)
        {
            (evidence, toLow, toHigh) = Read([TargetAnalyst.Examine(run, run.Studies[0], Contrasts)]);
        }

        if (toLow is null || toHigh is null)
        {
            Skip(at, Reason(outcome));
            return;
        }

        _search.Tell(at, evidence.LogOdds);
        var (like, ratio) = evidence.IsChanged ? (high, toHigh) : (low, toLow);
        Say(at, $"{(evidence.IsSure ? "" : "probably ")}{(evidence.IsChanged ? "changed" : "not yet changed")}, {Beside(ratio)} "
            + $"{Short(like)}"
            + (evidence.IsShared ? "; there is a smaller change on its other side" : ""));
    }

    // What the step itself did, whatever lies between the ends beside it.
    private async Task ConfirmAsync(CancellationToken cancellation)
    {
        // Nothing was told: the ends are all that is known.
        if (_search.High - _search.Low == ask.Commits.Count - 1)
        {
            return;
        }

        int[] sides = [_search.Low, _search.High];
        _pair = _pair with { TimeRatio = Interval.Unknown(_cell.TimeRatio.Level), BytesBefore = double.NaN, Bytes = double.NaN };
        foreach (var side in sides.Where(side => !_ready.ContainsKey(side)))
        {
            if (await MakeAsync(side, cancellation) is { Starter: null })
            {
                return;
            }
        }

        // It is the last, and may take what is left.
        var outcome = await MeasureAsync(sides, Math.Max(LeastSecondsARun, SecondsLeft), [_cell.Study], _cell.IsMeant, found =>
            _cell.IsByBytes || Same(HuntedCell.All(found, "", null)) is { IsTight: true }, cancellation);
        if (outcome.Run is { Studies.Count: > 0 } run)
        {
            _pair = Same(HuntedCell.All([TargetAnalyst.Examine(run, run.Studies[0], Contrasts)], "", null)) ?? _pair;
        }

        HuntedCell? Same(IReadOnlyList<HuntedCell> cells)
            => cells.FirstOrDefault(cell => (cell.Variant, cell.Input) == (_cell.Variant, _cell.Input));
    }

    private string Beside(HuntedCell cell) => _cell.IsByBytes
        ? $"{Quantity.Bytes(cell.BytesBefore)} where there are {Quantity.Bytes(cell.Bytes)} at"
        : $"{Quantity.Factor(cell.TimeRatio.Dividing(1))} of";

    private (ChangeEvidence Evidence, HuntedCell? Low, HuntedCell? High) Read(IReadOnlyList<StudyOnTargets> found)
    {
        HuntedCell? One(int target) => found is [var study, ..]
            ? HuntedCell.All([study with
            {
                Targets = [study.Targets[0], study.Targets[target]],
                Contrasts = [.. study.Contrasts.Where(contrast => contrast.Target == target)
                    .Select(contrast => contrast with { Target = 1 })],
            }], "", null).FirstOrDefault(cell => (cell.Variant, cell.Input) == (_cell.Variant, _cell.Input))
            : null;
        var (low, high) = (One(1), One(2));
        return low is null || high is null ? (default, low, high)
            : (_cell.IsByBytes ? ChangeEvidence.OfBytes(low.Bytes, low.BytesBefore, high.Bytes)
                : ChangeEvidence.OfTimes(low.TimeRatio, high.TimeRatio, found[0].Targets[0].Sittings,
                    _cell.TimeRatio.Estimate, ask.Plan.MarginShare), low, high);
    }

    private static string Reason(RunOutcome outcome)
    {
        var failures = outcome.Run?.Studies.SelectMany(study => study.Failures).OrderBy(failure => failure.Target).ToList();
        return failures is [var failure, ..] ? $"cannot be compared: {failure.Reason}"
            : outcome.Refusals is [var refusal, ..] ? $"cannot be measured: {refusal}"
            : "cannot be measured in the time it was given";
    }

    private void Skip(int at, string reason)
    {
        _search.Skip(at);
        _untold.Add((ask.Commits[at].Name, reason));
        Say(at, reason);
    }

    private void Say(int at, string how)
        => display.Say($"{Short(at)} {how}{(_search.Next is null ? "" : $"; {_search.High - _search.Low} left to search")}");

    private string Short(int index) => RunWords.Commit(ask.Commits[index].Name);

    private bool IsSameCode(int one, int other) => _ready[one].Code.Stamp is { } stamp && stamp == _ready[other].Code.Stamp;

    private async Task<PreparedTarget> MakeAsync(int index, CancellationToken cancellation)
    {
        var made = await preparation.MakeAsync(ask.Project,
            new Target { Name = Short(index), Revision = ask.Commits[index].Name, Study = ask.Study }, cancellation);
        _stamps[index] = made.Code.Stamp;
        return _ready[index] = made;
    }

    private async Task<RunOutcome> MeasureAsync(
        int[] commits, double seconds, IReadOnlyList<string> only, Func<StudyDescription, int, int, bool>? isMeant,
        Func<IReadOnlyList<StudyOnTargets>, bool> isTold, CancellationToken cancellation)
    {
        PreparedTarget[] targets = [.. commits.Select(index => _ready[index])];
        var plan = ask.Plan with
        {
            // To be told and to be precise is one here: the judge says when.
            Only = only, PrecisionShare = ask.Plan.MarginShare,
            WithinSeconds = (_cell?.IsByBytes ?? ask.IsByBytes) == true ? Math.Min(SecondsForBytes, seconds) : seconds,
        };
        var begun = around.Clock.GetTimestamp();
        var outcome = await display.WhileMeasuringAsync(progress => new Experiment(
            new TargetStarters([.. targets.Select(target => target.Starter!)]), plan, preparation.Surroundings(progress) with
            {
                IsCellMeant = isMeant,
                Judge = (run, study) => new Standing { IsPreciseEnough = isTold([TargetAnalyst.Examine(run, study, Contrasts)]) },
            })
        {
            Targets = targets, IsOnlyCommonMeasured = true,
        }.RunAsync(cancellation));
        _spentSeconds += around.Clock.GetElapsedTime(begun).TotalSeconds;
        cancellation.ThrowIfCancellationRequested();
        return outcome;
    }

    // The folder the commit was taken to, which nobody knows.
    [GeneratedRegex(@"^.*[/\\]revisions[/\\][^/\\]*[/\\]")]
    private static partial Regex BuildError();

    private PinpointFindings Found()
    {
        var (low, high) = (ask.Commits[_search.Low], ask.Commits[_search.High]);
        var between = _search.Between.Select(index => ask.Commits[index].Name).ToHashSet();
        (string Commit, string Reason)[] untold = [.. _untold.Where(commit => between.Contains(commit.Commit))];
        return new PinpointFindings
        {
            Study = _cell.Study, Cell = _cell.Name, Good = ask.Good, Bad = ask.Bad, IsByBytes = _cell.IsByBytes,
            Project = ask.Project, StudyRevision = ask.Study,
            TimeRatio = _pair.TimeRatio, WholeRatio = _cell.TimeRatio,
            BytesBefore = _pair.BytesBefore, Bytes = _pair.Bytes, WholeBytesBefore = _cell.BytesBefore, WholeBytes = _cell.Bytes,
            Before = low.Name, Commit = high.Name, Date = high.Date, Subject = high.Subject, IsMerge = high.IsMerge,
            Commits = ask.Commits.Count - 1, Measured = _looked.Count + 2, SameCode = _sameCode,
            Untold = untold, Open = between.Count - untold.Length,
        };
    }
}
