using System.Diagnostics;
using System.Diagnostics.Tracing;
using System.Reflection;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Listens to the runtime announcing the versions it makes of one method.</summary>
internal sealed class CodeVersions(MethodInfo method) : RuntimeEar
{
    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(1);

    private readonly List<CodeVersion> _found = [];
    private long _start = Stopwatch.GetTimestamp();
    private long _last = Stopwatch.GetTimestamp();

    protected override EventKeywords First => Compiled | BuiltAhead;

    /// <summary>Whether no version has come for a while.</summary>
    public bool IsQuiet => Stopwatch.GetElapsedTime(Volatile.Read(ref _last)) > Quiet;

    /// <summary>Time counts from here.</summary>
    public void Begin() => _start = _last = Stopwatch.GetTimestamp();

    public IReadOnlyList<CodeVersion> Found()
    {
        lock (_found)
        {
            return [.. _found];
        }
    }

    protected override void OnEventWritten(EventWrittenEventArgs eventData)
    {
        if (Is(eventData, "MethodLoadVerbose") && IsOurs(eventData))
        {
            Keep(Tier(eventData), (int)Number(eventData, "MethodSize"));
        }
        else if (Is(eventData, "R2RGetEntryPoint") && IsOurs(eventData))
        {
            Keep(CodeTier.BuiltAhead, 0);
        }
    }

    private void Keep(CodeTier tier, int bytes)
    {
        lock (_found)
        {
            _last = Stopwatch.GetTimestamp();
            _found.Add(new CodeVersion { Tier = tier, Milliseconds = Stopwatch.GetElapsedTime(_start, _last).TotalMilliseconds,
                CodeBytes = bytes });
        }
    }

    private bool IsOurs(EventWrittenEventArgs data)
        => Text(data, "MethodName") == method.Name && Text(data, "MethodNamespace") == method.DeclaringType?.FullName;
}
