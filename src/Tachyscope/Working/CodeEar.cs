using System.Diagnostics.Tracing;
using System.Reflection;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Hears, while cells are warmed, what code comes of each: how long, where, and whether the operation became part of its
/// loop.</summary>
internal sealed class CodeEar : RuntimeEar
{
    private const long PageBytes = 4_096;
    private const int MostCallees = 4;

    private readonly Dictionary<string, Code> _last = [];
    private readonly HashSet<(string Into, string Callee)> _inlined = [];
    private readonly HashSet<(string Into, string Callee)> _refused = [];

    protected override EventKeywords First => Compiled;

    /// <summary>Hears what is decided too, which is much before the loops are all that is still compiled.</summary>
    /// <remarks>What was told and not heard yet is lost by it: nothing should have been compiled for a while.</remarks>
    public void HearDecisions() => Hear(Compiled | Decided);

    /// <summary>What was made of a cell; null where nothing of it was heard.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="measured">Its loop.</param>
    public CellCode? Of(MeasuredCell cell, MeasuredLoop measured)
    {
        lock (_last)
        {
            var loop = $"dynamicClass:{measured.Method.Name}";
            if (!_last.TryGetValue(loop, out var made))
            {
                return null;
            }

            var operation = cell.Method is { } method ? Name(method) : "";
            bool? isInlined = _inlined.Contains((loop, operation)) ? true : _refused.Contains((loop, operation)) ? false : null;
            // The same method in another copy of the code has the same name, and nothing else tells them apart.
            var own = isInlined != true && cell.Description.Copy == 0 ? _last.GetValueOrDefault(operation) : default;
            return new CellCode
            {
                IsInlined = isInlined,
                LoopBytes = made.Bytes,
                LoopOffset = made.Offset,
                Bytes = own.Bytes == 0 ? null : own.Bytes,
                Offset = own.Bytes == 0 ? null : own.Offset,
                Tier = own.Bytes == 0 ? made.Tier : own.Tier,
                InputOffset = cell.InputOffset?.Invoke(),
                Callees = [.. Callees(isInlined == true ? loop : operation)],
            };
        }
    }

    private IEnumerable<CalleeCode> Callees(string caller)
        => _refused.Where(pair => pair.Into == caller && pair.Callee != caller && _last.ContainsKey(pair.Callee))
            .Select(pair => pair.Callee).Distinct().Order(StringComparer.Ordinal).Take(MostCallees)
            .Select(callee => new CalleeCode(callee, _last[callee].Bytes, _last[callee].Offset));

    protected override void OnEventWritten(EventWrittenEventArgs eventData)
    {
        if (Is(eventData, "MethodLoadVerbose"))
        {
            var name = $"{Text(eventData, "MethodNamespace")}:{Text(eventData, "MethodName")}";
            var code = new Code(
                (int)Number(eventData, "MethodSize"), (int)(Number(eventData, "MethodStartAddress") & (PageBytes - 1)), Tier(eventData));
            lock (_last)
            {
                _last[name] = code;
            }
        }
        else if (Is(eventData, "MethodJitInliningSucceeded") || Is(eventData, "MethodJitInliningFailed"))
        {
            var pair = ($"{Text(eventData, "MethodBeingCompiledNamespace")}:{Text(eventData, "MethodBeingCompiledName")}",
                $"{Text(eventData, "InlineeNamespace")}:{Text(eventData, "InlineeName")}");
            lock (_last)
            {
                (Is(eventData, "MethodJitInliningFailed") ? _refused : _inlined).Add(pair);
            }
        }
    }

    private static string Name(MethodInfo method) => $"{method.DeclaringType?.FullName}:{method.Name}";

    private readonly record struct Code(int Bytes, int Offset, CodeTier Tier);
}
