using System.Runtime.InteropServices;
using System.Text.Json;
using Tachyscope.Lab.Workers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.StudyFiles;

/// <summary>Stands for the worker of a study that has no code of its own: it hands out inputs and compares answers, in this
/// process.</summary>
internal sealed class StudyFileWorker(StudyFile file) : IWorker
{
    private readonly Dictionary<(string Study, int Input), (JsonElement Answer, string Row)> _references = [];

    public IReadOnlyList<string> LastLines => [];

    public IReadOnlyList<string> LeftBehind => [];

    public Task<TReply> AskAsync<TRequest, TReply>(string method, TRequest request, Patience patience, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
        => Task.FromResult((TReply)(object)(request switch
        {
            InspectRequest => new InspectReply { Mistakes = [] },
            InputRequest asked => new InputReply { Value = file.Input(asked.Study, asked.Input) },
            JudgeRequest asked => Judge(asked),
            _ when method == WorkerMethods.Hello => Hello(),
            _ when method == WorkerMethods.Studies => new StudiesReply { Studies = file.Studies },
            _ when method == WorkerMethods.Effects => new EffectsReply { Effects = new Dictionary<string, string>() },
            _ when method == WorkerMethods.Bye => Empty.Instance,
            _ => throw new WorkerException(WorkerTrouble.Refused, "a study of guests has no code of its own to look at"),
        }));

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static HelloReply Hello() => new()
    {
        Protocol = WorkerMethods.ProtocolVersion,
        Kit = "none",
        ProcessId = Environment.ProcessId,
        Environment = new WorkerEnvironment
        {
            Runtime = "guests",
            Architecture = RuntimeInformation.ProcessArchitecture.ToString().ToLowerInvariant(),
            IsOptimized = true,
            Processors = Affinity.CoreByCore(),
        },
    };

    // The first that answers is what the others must agree with.
    private CheckReply Judge(JudgeRequest asked)
    {
        var study = file.Studies.First(study => study.Name == asked.Study);
        var key = (asked.Study, asked.Input);
        if (asked.Variant == asked.Reference || !_references.TryGetValue(key, out var reference))
        {
            _references[key] = (asked.Value.Clone(), study.Variants[asked.Variant].Name);
            return new CheckReply();
        }

        return JsonAgreement.Difference(reference.Answer, asked.Value, study.Tolerance ?? 0) is var (given, expected)
            ? new CheckReply
            {
                Failure = CellFailureKind.Disagrees, Reason = $"answers {given} where \"{reference.Row}\" answers {expected}",
            }
            : new CheckReply();
    }
}

/// <summary>Starts such workers.</summary>
internal sealed class StudyFileStarter(StudyFile file) : IWorkerStarter
{
    /// <inheritdoc/>
    public IWorker Start(int target = 0) => new StudyFileWorker(file);
}
