using Spectre.Console;
using Spectre.Console.Rendering;

namespace Tachyscope.Cli.Commands;

/// <summary>Lines at the foot of a terminal that change while something runs, and leave nothing behind.</summary>
/// <remarks>One display for each stretch: a display never becomes smaller than it ever was.</remarks>
internal sealed class LiveArea(IAnsiConsole console)
{
    private readonly Lock _lock = new();
    private TaskCompletionSource? _end;
    private Task _display = Task.CompletedTask;
    private LiveDisplayContext? _context;

    public void Show(IRenderable lines)
    {
        lock (_lock)
        {
            if (_context is null)
            {
                Begin(lines);
            }

            _context?.UpdateTarget(lines);
            _context?.Refresh();
        }
    }

    /// <summary>Takes the lines away, so that what is written next stands in their place.</summary>
    public void Clear()
    {
        lock (_lock)
        {
            _end?.SetResult();
            _display.GetAwaiter().GetResult();
            (_end, _context) = (null, null);
        }
    }

    private void Begin(IRenderable lines)
    {
        var begun = new TaskCompletionSource<LiveDisplayContext>(TaskCreationOptions.RunContinuationsAsynchronously);
        _end = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        var end = _end.Task;
        _display = Task.Run(() => console.Live(lines).AutoClear(true).StartAsync(context =>
        {
            begun.SetResult(context);
            return end;
        }));
        _context = begun.Task.GetAwaiter().GetResult();
    }
}
