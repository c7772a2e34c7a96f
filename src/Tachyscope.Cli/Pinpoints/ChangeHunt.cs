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
    private const double UsualSecondsARun = 60;

    // Where so many in a row could not be told, the next will not be either.
    private const int MostUntold = 3;
    private const double LeastSecondsARun = 2;

    // What counts bytes needs one sitting.
    private const double SecondsForBytes = 2;

    private static readonly AnalysisOptions Contrasts = new() { AreContrastsOnly = true };

    private readonly ChangeSearch _search = new(ask.Commits.Count - 1);
    private readonly Dictionary<int, PreparedTarget> _ready = [];
    private readonly List<(string Commit, string Reason)> _untold = [];
    private HuntedCell _cell = null!;
    private (Interval Time, double Before, double After) _pair;
    private double _spentSeconds;
    private int _measured = 2;
    private int _sameCode;
    private int _unclear;

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
                [$"{ask.Good} and {ask.Bad} compile to the same code, so that no commit between them changed anything."], ExitCode.Failed));
        }

        if (await ChooseAsync(low, high, cancellation) is { } complained)
        {
            return (null, complained);
        }

        while (SecondsLeft >= LeastSecondsARun && _unclear < MostUntold && _search.Next is { } at)
        {
            await LookAsync(at, cancellation);
        }

        return (Found(), ExitCode.Fine);
    }

    private double SecondsLeft => ask.Plan.WithinSeconds is { } within ? within - _spentSeconds : double.PositiveInfinity;

    private async Task<int?> ChooseAsync(int low, int high, CancellationToken cancellation)
    {
        IReadOnlyList<HuntedCell> cells = [];
        var outcome = await MeasureAsync([low, high], 2, ask.Plan.Only, null, found =>
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
            _pair = (cell.TimeRatio, cell.BytesBefore, cell.Bytes);
            display.Say($"{ask.Good} to {ask.Bad}: {cell.Study} · {cell.Name} {Change(cell)}; {ask.Commits.Count - 1} commits, about "
                + $"{_search.LooksLeft} to measure");
            return null;
        }

        var failures = run.Studies.SelectMany(study => study.Failures.Select(failure =>
            $"{study.Study.Name} · {study.Study.Variants[failure.Variant].Name} · {study.Study.Inputs[failure.Input].Label} {failure.Reason}"));
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

    // The middle of what is open beside both ends of it.
    private async Task LookAsync(int at, CancellationToken cancellation)
    {
        var made = await MakeAsync(at, cancellation);
        if (made.Starter is null)
        {
            Skip(at, made.Errors.Count == 0 ? "does not build" : $"does not build: {BuildError().Replace(made.Errors[0], "")}");
            return;
        }

        foreach (var (end, isChanged) in ((int, bool)[])[(_search.Low, false), (_search.High, true)])
        {
            if (IsSameCode(at, end))
            {
                _sameCode++;
                Tell(at, isChanged, $"compiles to the same code as {Short(end)}");
                return;
            }
        }

        var (low, high) = (_search.Low, _search.High);
        var evidence = default(ChangeEvidence);
        HuntedCell? toLow = null, toHigh = null;
        var outcome = await MeasureAsync([at, low, high], 1, [_cell.Study], _cell.IsMeant, found =>
        {
            (evidence, toLow, toHigh) = Read(found);
            return evidence.IsSure;
        }, cancellation);
        _measured++;
        if (outcome.Run is { Studies.Count: > 0 } run)
        {
            (evidence, toLow, toHigh) = Read([TargetAnalyst.Examine(run, run.Studies[0], Contrasts)]);
        }

        _unclear = evidence.IsSure || toLow is null || toHigh is null ? 0 : _unclear + 1;
        if (!evidence.IsSure || toLow is null || toHigh is null)
        {
            Skip(at, Reason(outcome, toLow is null || toHigh is null));
            return;
        }

        _pair = evidence.IsChanged
            ? (toLow.TimeRatio.Dividing(1), toLow.Bytes, toLow.BytesBefore)
            : (toHigh.TimeRatio, toHigh.BytesBefore, toHigh.Bytes);
        var (like, ratio) = evidence.IsChanged ? (high, toHigh) : (low, toLow);
        Tell(at, evidence.IsChanged, $"{(evidence.IsChanged ? "changed" : "not yet changed")}, {Beside(ratio)} {Short(like)}"
            + (evidence.IsShared ? "; there is a smaller change on its other side" : ""));
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
                Contrasts = [.. study.Contrasts.Where(contrast => contrast.Target == target).Select(contrast => contrast with { Target = 1 })],
            }], "", null).FirstOrDefault(cell => (cell.Variant, cell.Input) == (_cell.Variant, _cell.Input))
            : null;
        var (low, high) = (One(1), One(2));
        return low is null || high is null ? (default, low, high)
            : (_cell.IsByBytes ? ChangeEvidence.OfBytes(low.Bytes, low.BytesBefore, high.Bytes)
                : ChangeEvidence.OfTimes(low.TimeRatio, high.TimeRatio, ask.Plan.MarginShare), low, high);
    }

    private static string Reason(RunOutcome outcome, bool isMissing)
    {
        var failure = outcome.Run?.Studies.SelectMany(study => study.Failures).FirstOrDefault(failure => failure.Target == 0)
            ?? outcome.Run?.Studies.SelectMany(study => study.Failures).FirstOrDefault();
        return !isMissing ? "cannot be told in the time it was given"
            : failure is not null ? $"cannot be compared: {failure.Reason}"
            : outcome.Refusals is [var refusal, ..] ? $"cannot be measured: {refusal}"
            : "cannot be told in the time it was given";
    }

    private void Skip(int at, string reason)
    {
        _search.Skip(at);
        _untold.Add((ask.Commits[at].Name, reason));
        Say(at, reason);
        Release(at);
    }

    private void Tell(int at, bool isChanged, string how)
    {
        var left = isChanged ? _search.High : _search.Low;
        _search.Tell(at, isChanged);
        Say(at, how);
        Release(left);
    }

    private void Say(int at, string how)
        => display.Say($"{Short(at)} {how}{(_search.LooksLeft == 0 ? "" : $"; {_search.Between.Count} left to search")}");

    private void Release(int index)
    {
        if (_ready.Remove(index, out var target))
        {
            target.Dispose();
        }
    }

    private string Short(int index) => RunWords.Commit(ask.Commits[index].Name);

    private bool IsSameCode(int one, int other) => _ready[one].Code.Stamp is { } stamp && stamp == _ready[other].Code.Stamp;

    private async Task<PreparedTarget> MakeAsync(int index, CancellationToken cancellation)
        => _ready[index] = await preparation.MakeAsync(ask.Project,
            new Target { Name = Short(index), Revision = ask.Commits[index].Name, Study = ask.Study }, cancellation);

    private async Task<RunOutcome> MeasureAsync(
        int[] commits, int shares, IReadOnlyList<string> only, Func<StudyDescription, int, int, bool>? isMeant,
        Func<IReadOnlyList<StudyOnTargets>, bool> isTold, CancellationToken cancellation)
    {
        PreparedTarget[] targets = [.. commits.Select(index => _ready[index])];
        var seconds = ask.Plan.WithinSeconds is null ? UsualSecondsARun
            : Math.Max(LeastSecondsARun, SecondsLeft * shares / (_search.LooksLeft + shares - 1));
        var plan = ask.Plan with
        {
            // To be told and to be precise is one here: the judge says when.
            Only = only, PrecisionShare = ask.Plan.MarginShare,
            WithinSeconds = _cell is { IsByBytes: true } ? Math.Min(SecondsForBytes, seconds) : seconds,
        };
        var begun = around.Clock.GetTimestamp();
        try
        {
            return await display.WhileMeasuringAsync(progress => new Experiment(
                new TargetStarters([.. targets.Select(target => target.Starter!)]), plan, preparation.Surroundings(progress) with
                {
                    IsCellMeant = isMeant,
                    Judge = (run, study) => new Standing { IsPreciseEnough = isTold([TargetAnalyst.Examine(run, study, Contrasts)]) },
                })
            {
                Targets = targets, IsOnlyCommonMeasured = true,
            }.RunAsync(cancellation));
        }
        finally
        {
            _spentSeconds += around.Clock.GetElapsedTime(begun).TotalSeconds;
            cancellation.ThrowIfCancellationRequested();
        }
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
            TimeRatio = _pair.Time, WholeRatio = _cell.TimeRatio,
            BytesBefore = _pair.Before, Bytes = _pair.After, WholeBytesBefore = _cell.BytesBefore, WholeBytes = _cell.Bytes,
            Before = low.Name, Commit = high.Name, Date = high.Date, Subject = high.Subject, IsMerge = high.IsMerge,
            Commits = ask.Commits.Count - 1, Measured = _measured, SameCode = _sameCode,
            Untold = untold, Unseen = between.Count - untold.Length,
        };
    }
}
