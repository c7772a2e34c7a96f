using System.Diagnostics;
using System.Diagnostics.Tracing;
using System.Globalization;
using System.Reflection;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Listens to the runtime announcing the versions it makes of one method.</summary>
internal sealed class CodeVersions(MethodInfo method) : EventListener
{
    private const string Runtime = "Microsoft-Windows-DotNETRuntime";
    private const EventKeywords Compiler = (EventKeywords)0x10;
    private const EventKeywords BuiltAhead = (EventKeywords)0x20_0000_0000;
    private const int TierShift = 7;
    private const int TierMask = 7;
    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(1);

    // As the runtime numbers them in the flags of its event.
    private static readonly CodeTier[] Tiers =
    [
        CodeTier.Unknown, CodeTier.Unoptimised, CodeTier.OptimisedAtOnce, CodeTier.Quick, CodeTier.Optimised, CodeTier.OptimisedInLoop,
        CodeTier.Profiling, CodeTier.OptimisedProfiling,
    ];

    private readonly List<CodeVersion> _found = [];
    private long _start = Stopwatch.GetTimestamp();
    private long _last = Stopwatch.GetTimestamp();

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

    protected override void OnEventSourceCreated(EventSource eventSource)
    {
        if (eventSource.Name == Runtime)
        {
            EnableEvents(eventSource, EventLevel.Verbose, Compiler | BuiltAhead);
        }
    }

    protected override void OnEventWritten(EventWrittenEventArgs eventData)
    {
        if (eventData.EventName?.StartsWith("MethodLoadVerbose", StringComparison.Ordinal) == true && IsOurs(eventData))
        {
            var tier = (int)(Number(eventData, "MethodFlags") >> TierShift) & TierMask;
            Keep(Tiers[tier], (int)Number(eventData, "MethodSize"));
        }
        else if (eventData.EventName?.StartsWith("R2RGetEntryPoint", StringComparison.Ordinal) == true && IsOurs(eventData))
        {
            Keep(CodeTier.BuiltAhead, 0);
        }
    }

    private void Keep(CodeTier tier, int bytes)
    {
        lock (_found)
        {
            _last = Stopwatch.GetTimestamp();
            _found.Add(new CodeVersion { Tier = tier, Milliseconds = Stopwatch.GetElapsedTime(_start, _last).TotalMilliseconds, CodeBytes = bytes });
        }
    }

    private bool IsOurs(EventWrittenEventArgs data)
        => Value(data, "MethodName") as string == method.Name && Value(data, "MethodNamespace") as string == method.DeclaringType?.FullName;

    private static long Number(EventWrittenEventArgs data, string name)
        => Value(data, name) is IConvertible number ? number.ToInt64(CultureInfo.InvariantCulture) : 0;

    private static object? Value(EventWrittenEventArgs data, string name)
        => data.PayloadNames?.IndexOf(name) is { } index and >= 0 ? data.Payload?[index] : null;
}
