using System.Diagnostics.Tracing;
using Tachyscope.Protocol;

namespace Tachyscope.Working;

/// <summary>Hears the runtime's compiler tell what it puts into a method instead of calling it; from when it is made.</summary>
internal sealed class CompilerEar : RuntimeEar
{
    // A process that compiles for minutes must not fill its own memory.
    private const int MostKept = 200_000;

    private readonly object _lock = new();
    private List<InliningDecision> _heard = [];

    protected override EventKeywords First => Decided;

    /// <summary>What was heard since it was asked last.</summary>
    public IReadOnlyList<InliningDecision> Take()
    {
        lock (_lock)
        {
            (var heard, _heard) = (_heard, []);
            return heard;
        }
    }

    protected override void OnEventWritten(EventWrittenEventArgs eventData)
    {
        var isRefused = Is(eventData, "MethodJitInliningFailed");
        if (!isRefused && !Is(eventData, "MethodJitInliningSucceeded"))
        {
            return;
        }

        var decision = new InliningDecision
        {
            Into = $"{Text(eventData, "MethodBeingCompiledNamespace")}:{Text(eventData, "MethodBeingCompiledName")}",
            Callee = $"{Text(eventData, "InlineeNamespace")}:{Text(eventData, "InlineeName")}",
            Refused = isRefused ? Text(eventData, "FailReason") : null,
        };
        lock (_lock)
        {
            if (_heard.Count < MostKept)
            {
                _heard.Add(decision);
            }
        }
    }
}
