using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Histories;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>What a watcher sees: what is known so far and where the run stands, and results above it as they come.</summary>
internal sealed class RunDisplay
{
    private const int ProgressLines = 3;

    private readonly IAnsiConsole _console;
    private readonly LiveArea? _live;
    private readonly HashSet<string> _shown = [];
    private IRenderable? _soFar;
    private IRenderable _progress = new Markup("[dim]starting[/]");

    public RunDisplay(Surroundings around, bool isPlain)
    {
        _console = TerminalConsole.For(around.Output, isPlain ? null : around.Terminal);
        var isLive = _console.Profile.Capabilities.Interactive && _console.Profile.Capabilities.Ansi;
        _live = isLive ? new LiveArea(_console) : null;
    }

    public bool HasShown(StudyRecord study) => _shown.Contains(study.Study.Name);

    public void Say(string line) => _console.MarkupLine($"[dim]{Markup.Escape(VisibleText.Of(line))}[/]");

    public void Show(StudyRecord study, IEnumerable<StudyReport> reports)
    {
        _shown.Add(study.Study.Name);
        _soFar = null;
        _live?.Clear();
        foreach (var report in reports)
        {
            StudyView.Write(report, _console);
        }
    }

    /// <summary>Shows what holds for all studies of a run.</summary>
    public void ShowRun(Run run, IReadOnlyList<StudyOnTargets> found, bool isMoreShown)
        => RunView.Write(run, found, _console, !isMoreShown);

    /// <summary>Shows what was found against an earlier run or revision.</summary>
    public void Show(HistoryReport report) => HistoryView.Write(report, _console);

    /// <summary>Shows what is known so far above the progress, where somebody watches and it fits.</summary>
    public void ShowSoFar(Func<StudyReport> report)
    {
        if (_live is not null)
        {
            _soFar = StudyView.Provisional(report(), _console.Profile.Width, _console.Profile.Height - ProgressLines);
            ShowLive();
        }
    }

    public Task<T> WhileBuildingAsync<T>(string project, Func<Task<T>> build)
    {
        _progress = new Markup($"[dim]building {Markup.Escape(VisibleText.Of(project))}[/]");
        return LiveAsync(build);
    }

    public Task<T> WhileMeasuringAsync<T>(Func<IProgress<RunProgress>?, Task<T>> measure)
        => LiveAsync(() => measure(_live is null ? null : new Relay(progress =>
        {
            _progress = ProgressView.Line(progress);
            ShowLive();
        })));

    private void ShowLive() => _live?.Show(_soFar is null ? _progress : new Rows(_soFar, _progress));

    private async Task<T> LiveAsync<T>(Func<Task<T>> work)
    {
        ShowLive();
        try
        {
            return await work();
        }
        finally
        {
            _live?.Clear();
        }
    }

    // Unlike Progress<T>, tells at once and in order.
    private sealed class Relay(Action<RunProgress> update) : IProgress<RunProgress>
    {
        public void Report(RunProgress value) => update(value);
    }
}
