using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>What a watcher sees: a live line while something runs, results above it as they come.</summary>
internal sealed class RunDisplay
{
    private const int ProgressLines = 3;

    private readonly IAnsiConsole _console;
    private readonly bool _isLive;
    private readonly HashSet<string> _shown = [];
    private LiveDisplayContext? _live;
    private IRenderable? _soFar;
    private IRenderable? _progress;

    public RunDisplay(Surroundings around, bool isPlain)
    {
        _console = around.IsTerminal && !isPlain ? TerminalConsole.ForPerson(around.Output) : TerminalConsole.Plain(around.Output);
        _isLive = _console.Profile.Capabilities.Interactive && _console.Profile.Capabilities.Ansi;
    }

    public bool HasShown(StudyRecord study) => _shown.Contains(study.Study.Name);

    public void Say(string line) => _console.MarkupLine($"[dim]{Markup.Escape(line)}[/]");

    public void Show(StudyRecord study, StudyReport report)
    {
        _shown.Add(study.Study.Name);
        // What is written goes over the live lines, which would shine through behind shorter ones.
        _live?.UpdateTarget(Blank(_soFar is null ? ProgressLines : _console.Profile.Height - 1));
        _live?.Refresh();
        _soFar = null;
        StudyView.Write(report, _console);
    }

    public void Show(IReadOnlyList<FigureTable> tables)
    {
        foreach (var table in tables)
        {
            FigureView.Write(table, _console);
        }
    }

    public Task<T> WhileBuildingAsync<T>(string project, Func<Task<T>> build)
        => LiveAsync(new Markup($"[dim]building {Markup.Escape(project)}[/]"), _ => build());

    public Task<T> WhileMeasuringAsync<T>(Func<IProgress<RunProgress>?, Task<T>> measure)
        => LiveAsync(new Markup("[dim]starting[/]"), update => measure(update is null ? null : new Relay(progress =>
        {
            _progress = ProgressView.Line(progress);
            update(_soFar is null ? _progress : new Rows(_soFar, _progress));
        })));

    /// <summary>Shows what is known so far above the live line, where somebody watches and it fits.</summary>
    public void ShowSoFar(Func<StudyReport> report)
    {
        if (_live is null)
        {
            return;
        }

        _soFar = StudyView.Provisional(report(), _console.Profile.Width, _console.Profile.Height - ProgressLines);
        if (_soFar is not null && _progress is not null)
        {
            _live.UpdateTarget(new Rows(_soFar, _progress));
            _live.Refresh();
        }
    }

    private Rows Blank(int lines) => new(Enumerable.Repeat(new Text(new string(' ', _console.Profile.Width - 1)), Math.Max(1, lines)));

    private async Task<T> LiveAsync<T>(IRenderable first, Func<Action<IRenderable>?, Task<T>> work)
    {
        if (!_isLive)
        {
            return await work(null);
        }

        try
        {
            return await _console.Live(first).AutoClear(true).StartAsync(context =>
            {
                _live = context;
                return work(line =>
                {
                    context.UpdateTarget(line);
                    context.Refresh();
                });
            });
        }
        finally
        {
            _live = null;
        }
    }

    // Unlike Progress<T>, tells at once and in order.
    private sealed class Relay(Action<RunProgress> update) : IProgress<RunProgress>
    {
        public void Report(RunProgress value) => update(value);
    }
}
