using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>Workers that answer as a script says, without a process, and count what they were asked.</summary>
internal sealed class ScriptedWorkers(params StudyDescription[] studies) : IWorkerStarter
{
    private int _started;
    private int _disposed;

    /// <summary>How many times as long everything takes on a target.</summary>
    public Func<int, double> Slowness { get; init; } = _ => 1;

    /// <summary>Rows that a target does not have.</summary>
    public Func<int, string?> Lacking { get; init; } = _ => null;

    /// <summary>Nanoseconds per call by variant.</summary>
    public Func<int, double> Times { get; init; } = variant => 100 * (variant + 1);

    /// <summary>Thrown when a cell is called while warming or reading; null for none.</summary>
    public Func<CellDescription, WorkerException?> Trouble { get; init; } = _ => null;

    /// <summary>What a target has in place of the studies given; null for those.</summary>
    public Func<int, StudyDescription[]?> HeldBy { get; init; } = _ => null;

    /// <summary>What is seen of runtime switches.</summary>
    public Dictionary<string, string> Effects { get; init; } = [];

    public Func<CheckRequest, CheckReply> Check { get; init; } = _ => new CheckReply();

    public Func<DiagnoseRequest, DiagnoseReply> Diagnose { get; init; } = _ => new DiagnoseReply();

    public IReadOnlyList<WorkPerCall> Work { get; init; } = [];

    public IReadOnlyList<string> FactoryMistakes { get; init; } = [];

    public WorkerEnvironment Environment { get; init; } = new() { Runtime = ".NET 10", Architecture = "x64", IsOptimized = true,
        Processors = [0, 1] };

    public int Protocol { get; init; } = WorkerMethods.ProtocolVersion;

    public Action<string> Asked { get; init; } = _ => { };

    /// <summary>Processes that every worker leaves running.</summary>
    public IReadOnlyList<string> LeftBehind { get; init; } = [];

    /// <summary>Copies of its code that a worker can make, and the one in which every operation throws.</summary>
    public int Copies { get; init; } = 1;

    public int? ThrowsInCopy { get; init; }

    public int LowGauge { get; init; }

    /// <summary>Where it was when it was lost.</summary>
    public WorkerPlace LostAt { get; init; } = WorkerPlace.Cell;

    /// <summary>The largest gauge of a quiet core that each request for readings named.</summary>
    public List<int> QuietGauges { get; } = [];

    // The sittings of a set are made ready side by side.
    public int Started => _started;

    public int Disposed => _disposed;

    public IWorker Start(int target = 0)
    {
        Interlocked.Increment(ref _started);
        return new Worker(this, target);
    }

    private sealed class Worker(ScriptedWorkers script, int target) : IWorker
    {
        private IReadOnlyList<CellDescription> _cells = [];

        public IReadOnlyList<string> LastLines => [];

        public IReadOnlyList<string> LeftBehind => script.LeftBehind;

        public Task<TReply> AskAsync<TRequest, TReply>(string method, TRequest request, Patience patience, CancellationToken cancellation)
            where TRequest : class
            where TReply : class
        {
            script.Asked(method);
            cancellation.ThrowIfCancellationRequested();
            return Task.FromResult((TReply)Answer(request, method));
        }

        public ValueTask DisposeAsync()
        {
            Interlocked.Increment(ref script._disposed);
            return ValueTask.CompletedTask;
        }

        private object Answer(object request, string method) => request switch
        {
            InspectRequest => new InspectReply { Mistakes = script.FactoryMistakes, Work = script.Work },
            CheckRequest check => script.Check(check),
            DiagnoseRequest diagnose => script.Diagnose(diagnose),
            OpenRequest open => Open(open),
            WarmRequest warm => Warm(warm),
            ReadRequest read => Read(read),
            _ when method == WorkerMethods.Hello
                => new HelloReply { Protocol = script.Protocol, Kit = "script", ProcessId = 1, Environment = script.Environment },
            _ when method == WorkerMethods.Effects => new EffectsReply { Effects = script.Effects },
            _ when method == WorkerMethods.Compile => new CompileReply
            {
                Codes = [.. _cells.Select(cell => cell.Kind == CellKind.Variant ? new CellCode { IsInlined = cell.Variant == 0,
                    LoopBytes = 90 } : null)],
            },
            _ when method == WorkerMethods.Studies => new StudiesReply { Studies = script.StudiesOf(target) },
            _ => Empty.Instance,
        };

        private OpenReply Open(OpenRequest open)
        {
            _cells = open.Cells;
            var wanted = _cells.Max(cell => cell.Copy) + 1;
            return new OpenReply
            {
                Cells = _cells.Count,
                Copies = Math.Min(script.Copies, wanted),
                CopiesProblem = script.Copies < wanted ? "it is scripted" : null,
            };
        }

        private WarmReply Warm(WarmRequest warm)
        {
            Touch(warm.Cells);
            return new WarmReply { ElapsedMilliseconds = 1, Copies = script.Copies, LowGauge = script.LowGauge,
                Cells = [.. warm.Cells.Select(cell => new WarmUp { Cell = cell, IsSettled = true, NanosecondsPerCall = 100,
                    CallsPerReading = 1_000 })] };
        }

        private ReadReply Read(ReadRequest read)
        {
            script.QuietGauges.Add(read.QuietGauge);
            Touch([.. read.Rounds.SelectMany(round => round.Cells)]);
            var failures = read.Rounds.SelectMany(round => round.Cells).Where(cell => _cells[cell].Copy == script.ThrowsInCopy).Distinct()
                .Select(cell => new CellError { Cell = cell, Reason = "threw" }).ToList();
            var readings = read.Rounds.SelectMany(round => round.Cells.SelectMany((cell, turn) =>
                ((int[])[read.Metronome, cell]).Select(index => Taken(round.Round, round.FirstPlace + turn, index))));
            return new ReadReply { Readings = [.. readings], Failures = failures, IsPinned = true };
        }

        private Reading Taken(int round, int place, int cell)
        {
            var nanoseconds = _cells[cell].Kind is CellKind.Variant or CellKind.Twin
                ? script.Times(_cells[cell].Variant) * script.Slowness(target)
                : 1;
            return new Reading { Round = round, Place = place, Cell = cell, Calls = 1_000, ElapsedNanoseconds = (long)(1_000 * nanoseconds),
                AllocatedBytes = 24_000 };
        }

        private void Touch(IReadOnlyList<int> cells)
        {
            foreach (var cell in cells)
            {
                if (script.Trouble(_cells[cell]) is { } trouble)
                {
                    throw new WorkerException(trouble.Trouble, trouble.Message, trouble.LastLines)
                    {
                        Where = new WorkerWhere(script.LostAt, cell), IsKilled = trouble.IsKilled,
                    };
                }
            }
        }
    }

    private StudyDescription[] StudiesOf(int target)
        => HeldBy(target) is { } held ? held : Lacking(target) is { } lacking
            ? [.. studies.Select(study => study with { Variants = [.. study.Variants.Where(row => row.Name != lacking)] })] : studies;
}
