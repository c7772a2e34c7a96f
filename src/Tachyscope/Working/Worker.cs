using System.Text.Json;
using Tachyscope.Answers;
using Tachyscope.Protocol;
using Tachyscope.Wire;

namespace Tachyscope.Working;

/// <summary>Answers the tool's requests, one JSON object a line, until told to end.</summary>
internal sealed class Worker(IReadOnlyList<Study> studies, Stream requests, Stream replies)
{
    private readonly Dictionary<string, Study> _studies =
        studies.GroupBy(study => study.Name, StringComparer.Ordinal)
            .ToDictionary(group => group.Key, group => group.First(), StringComparer.Ordinal);

    private readonly JsonLine _reply = new();
    private Sitting? _sitting;
    private CompilerEar? _ear;

    /// <summary>A worker whose sitting is open already.</summary>
    public Worker(Sitting sitting)
        : this([], Stream.Null, Stream.Null) => _sitting = sitting;

    public void Serve()
    {
        var reader = new LineReader(requests);
        while (reader.TryRead(out var line))
        {
            if (line.IsEmpty)
            {
                continue;
            }

            var isLast = Answer(line);
            if (!TrySend() || isLast)
            {
                return;
            }
        }
    }

    /// <summary>Answers a request; the reply waits to be sent.</summary>
    /// <returns>Whether it was the last.</returns>
    public bool Answer(ReadOnlySpan<byte> line)
    {
        var isLast = false;
        long? id = null;
        try
        {
            (id, var method) = Requests.Envelope(line, out var parameters);
            isLast = method == WorkerMethods.Bye;
            Begin(id);
            _reply.Name("result"u8);
            Dispatch(method, parameters);
            End();
        }
        catch (RpcException exception)
        {
            Fail(id, exception.Code, exception.Message);
        }
        catch (JsonException exception)
        {
            Fail(id, id is null ? RpcError.ParseError : RpcError.InvalidParameters, exception.Message);
        }
#pragma warning disable CA1031 // The user's code may throw anything, and the tool must hear of it.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            Fail(id, RpcError.StudyFailed, ExceptionText.Of(exception));
        }
        finally
        {
            Whereabouts.Leave();
        }

        return isLast;
    }

    private bool TrySend()
    {
        try
        {
            replies.Write(_reply.Written);
            replies.Flush();
            return true;
        }
        catch (IOException)
        {
            // The tool is gone, and nobody is left to be told.
            return false;
        }
    }

    // What comes with every sitting is read and written here; the rest by a serialiser, which a sitting never needs.
    private void Dispatch(string method, ReadOnlySpan<byte> parameters)
    {
        switch (method)
        {
            case WorkerMethods.Hello:
                _reply.Write(Introduction.Of(studies));
                break;
            case WorkerMethods.Open:
                _reply.Write(Open(Requests.Open(parameters)));
                break;
            case WorkerMethods.Warm:
                _reply.Write(Opened().Warm(Requests.Warm(parameters)));
                break;
            case WorkerMethods.Read:
                _reply.Write(Opened().Read(Requests.Read(parameters)));
                break;
            case WorkerMethods.Compile:
                _reply.Write(Opened().Compile());
                break;
            case WorkerMethods.Bye:
                _reply.Raw("{}"u8);
                break;
            default:
                _reply.Raw(Serialised(method, parameters));
                break;
        }
    }

    private byte[] Serialised(string method, ReadOnlySpan<byte> parameters) => method switch
    {
        WorkerMethods.Studies => ProtocolText.ToJson(Describe()),
        WorkerMethods.Inspect => ProtocolText.ToJson(Inspect(ProtocolText.FromJson<InspectRequest>(parameters))),
        WorkerMethods.Check => ProtocolText.ToJson(Check(ProtocolText.FromJson<CheckRequest>(parameters))),
        WorkerMethods.Diagnose => ProtocolText.ToJson(Diagnose(ProtocolText.FromJson<DiagnoseRequest>(parameters))),
        WorkerMethods.Effects => ProtocolText.ToJson(new EffectsReply { Effects = SwitchEffects.Look() }),
        WorkerMethods.Hear => ProtocolText.ToJson(new HearReply { Inlinings = (_ear ??= new CompilerEar()).Take() }),
        WorkerMethods.Input => ProtocolText.ToJson(Send(ProtocolText.FromJson<InputRequest>(parameters))),
        WorkerMethods.Judge => ProtocolText.ToJson(Judge(ProtocolText.FromJson<JudgeRequest>(parameters))),
        _ => throw new RpcException(RpcError.MethodNotFound, $"No method is named \"{method}\"."),
    };

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

    private void Begin(long? id)
    {
        _reply.Clear();
        _reply.BeginObject();
        _reply.Name("jsonrpc"u8);
        _reply.Text("2.0");
        _reply.Name("id"u8);
        if (id is { } number)
        {
            _reply.Number(number);
        }
        else
        {
            _reply.Null();
        }
    }

    private void End()
    {
        _reply.EndObject();
        _reply.EndLine();
    }

    private void Fail(long? id, int code, string message)
    {
        Begin(id);
        _reply.Name("error"u8);
        _reply.Write(new RpcError { Code = code, Message = message });
        End();
    }
}
