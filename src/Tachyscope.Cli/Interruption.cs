using System.Runtime.InteropServices;

namespace Tachyscope.Cli;

/// <summary>
/// The signals that end a run early: what was measured is kept and shown first. A second one, or twenty seconds, end the tool at once.
/// </summary>
internal sealed class Interruption : IDisposable
{
    private static readonly TimeSpan PatienceForEnd = TimeSpan.FromSeconds(20);
    private static readonly PosixSignal[] Signals = [PosixSignal.SIGINT, PosixSignal.SIGTERM, PosixSignal.SIGHUP, PosixSignal.SIGQUIT];

    private readonly CancellationTokenSource _source = new();
    private readonly List<PosixSignalRegistration> _registrations;
    private Timer? _end;

    public Interruption() => _registrations = [.. Signals.Select(signal => PosixSignalRegistration.Create(signal, Answer))];

    public CancellationToken Token => _source.Token;

    public void Dispose()
    {
        _registrations.ForEach(registration => registration.Dispose());
        _end?.Dispose();
        _source.Dispose();
    }

    private void Answer(PosixSignalContext context)
    {
        context.Cancel = true;
        if (_end is not null)
        {
            Environment.Exit(ExitCode.Interrupted);
        }

        _end = new Timer(_ => Environment.Exit(ExitCode.Interrupted), null, PatienceForEnd, Timeout.InfiniteTimeSpan);
        _source.Cancel();
    }
}
