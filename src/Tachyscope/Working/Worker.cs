using System.Text.Json;
using Tachyscope.Answers;
using Tachyscope.Protocol;

namespace Tachyscope.Working;

/// <summary>Answers the tool's requests, one JSON object a line, until told to end.</summary>
internal sealed class Worker(IReadOnlyList<Study> studies, Stream requests, Stream replies)
{
    private readonly Dictionary<string, Study> _studies =
        studies.GroupBy(study => study.Name, StringComparer.Ordinal).ToDictionary(group => group.Key, group => group.First(), StringComparer.Ordinal);

    private Sitting? _sitting;
    private CompilerEar? _ear;

    public void Serve()
    {
        using var reader = new StreamReader(requests, ProtocolText.Encoding, false, 65_536);
        while (reader.ReadLine() is { } line)
        {
            if (line.Length == 0)
            {
                continue;
            }

            var reply = Answer(line, out var isLast);
            if (!TrySend(reply) || isLast)
            {
                return;
            }
        }
    }

    private bool TrySend(RpcReply reply)
    {
        try
        {
            replies.Write(ProtocolText.ToLine(reply));
            replies.Flush();
            return true;
        }
        catch (IOException)
        {
            // The tool is gone, and nobody is left to be told.
            return false;
        }
    }

    private RpcReply Answer(string line, out bool isLast)
    {
        isLast = false;
        long? id = null;
        try
        {
            var request = ProtocolText.FromLine<RpcRequest>(line);
            id = request.Id;
            isLast = request.Method == WorkerMethods.Bye;
            return new RpcReply { Id = id, Result = Dispatch(request) };
        }
        catch (RpcException exception)
        {
            return Failed(id, exception.Code, exception.Message);
        }
        catch (JsonException exception)
        {
            return Failed(id, id is null ? RpcError.ParseError : RpcError.InvalidParameters, exception.Message);
        }
#pragma warning disable CA1031 // The user's code may throw anything, and the tool must hear of it.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            return Failed(id, RpcError.StudyFailed, ExceptionText.Of(exception));
        }
        finally
        {
            Whereabouts.Leave();
        }
    }

    private JsonElement Dispatch(RpcRequest request) => request.Method switch
    {
        WorkerMethods.Hello => ProtocolText.ToElement(Introduction.Of(studies)),
        WorkerMethods.Studies => ProtocolText.ToElement(Describe()),
        WorkerMethods.Inspect => ProtocolText.ToElement(Inspect(Parameters<InspectRequest>(request))),
        WorkerMethods.Check => ProtocolText.ToElement(Check(Parameters<CheckRequest>(request))),
        WorkerMethods.Open => ProtocolText.ToElement(Open(Parameters<OpenRequest>(request))),
        WorkerMethods.Warm => ProtocolText.ToElement(Opened().Warm(Parameters<WarmRequest>(request))),
        WorkerMethods.Read => ProtocolText.ToElement(Opened().Read(Parameters<ReadRequest>(request))),
        WorkerMethods.Diagnose => ProtocolText.ToElement(Diagnose(Parameters<DiagnoseRequest>(request))),
        WorkerMethods.Effects => ProtocolText.ToElement(new EffectsReply { Effects = SwitchEffects.Look() }),
        WorkerMethods.Hear => ProtocolText.ToElement(new HearReply { Inlinings = (_ear ??= new CompilerEar()).Take() }),
        WorkerMethods.Compile => ProtocolText.ToElement(Opened().Compile()),
        WorkerMethods.Input => ProtocolText.ToElement(Send(Parameters<InputRequest>(request))),
        WorkerMethods.Judge => ProtocolText.ToElement(Judge(Parameters<JudgeRequest>(request))),
        WorkerMethods.Bye => ProtocolText.ToElement(Empty.Instance),
        _ => throw new RpcException(RpcError.MethodNotFound, $"No method is named \"{request.Method}\"."),
    };

    private static T Parameters<T>(RpcRequest request) => ProtocolText.FromElement<T>(request.Parameters);

    private StudiesReply Describe() => new()
    {
        Studies = [.. studies.Select(study => study.Description)],
        Mistakes = [.. StudyMistakes.Among(studies)],
    };

    private InspectReply Inspect(InspectRequest request)
    {
        var study = Find(request.Study);
        var reply = study.Body.Inspect(request.Seed);
        return reply with { Mistakes = [.. reply.Mistakes.Select(mistake => StudyMistakes.Of(study.Name, mistake))] };
    }

    private CheckReply Check(CheckRequest request) => Find(request.Study).Body.Check(request);

    private InputReply Send(InputRequest request) => Find(request.Study).Body.Send(request);

    private CheckReply Judge(JudgeRequest request) => Find(request.Study).Body.Judge(request);

    private OpenReply Open(OpenRequest request)
    {
        // A reader of JSON leaves null where a member is missing, whatever the type says.
        if (request.Cells.Any(cell => cell.Loop is null))
        {
            throw new RpcException(RpcError.InvalidParameters, "A cell names no loop; send one for every cell, the metronome's included.");
        }

        var (cells, reply) = OpenedCells.Of(Find(request.Study), request);
        _sitting = new Sitting(cells);
        Rehearsal.Hold();
        return reply;
    }

    private DiagnoseReply Diagnose(DiagnoseRequest request) => new Diagnosis(Find(request.Study).Body, request).Make();

    private Sitting Opened()
        => _sitting ?? throw new RpcException(RpcError.InvalidRequest, $"No sitting is open; send \"{WorkerMethods.Open}\" first.");

    private Study Find(string name)
        => _studies.TryGetValue(name, out var study)
            ? study
            : throw new RpcException(RpcError.InvalidParameters, $"No study is named \"{name}\".");

    private static RpcReply Failed(long? id, int code, string message)
        => new() { Id = id, Error = new RpcError { Code = code, Message = message } };
}
