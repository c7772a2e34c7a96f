using System.Diagnostics.Tracing;
using System.Globalization;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Hears what the runtime tells of its own work.</summary>
internal abstract class RuntimeEar : EventListener
{
    /// <summary>What its compiler has made: every version of every method.</summary>
    protected const EventKeywords Compiled = (EventKeywords)0x10;

    /// <summary>What its compiler decided on the way.</summary>
    protected const EventKeywords Decided = (EventKeywords)0x1000;

    /// <summary>Code that was compiled before the process began.</summary>
    protected const EventKeywords BuiltAhead = (EventKeywords)0x20_0000_0000;

    private const string Runtime = "Microsoft-Windows-DotNETRuntime";
    private const int TierShift = 7;
    private const int TierMask = 7;

    // As the runtime numbers them in the flags of its event.
    private static readonly CodeTier[] Tiers =
    [
        CodeTier.Unknown, CodeTier.Unoptimised, CodeTier.OptimisedAtOnce, CodeTier.Quick, CodeTier.Optimised, CodeTier.OptimisedInLoop,
        CodeTier.Profiling, CodeTier.OptimisedProfiling,
    ];

    private EventSource? _runtime;

    /// <summary>What it begins with, which is asked for before its fields are set.</summary>
    protected abstract EventKeywords First { get; }

    /// <summary>Changes what is heard.</summary>
    protected void Hear(EventKeywords keywords)
    {
        if (_runtime is not null)
        {
            EnableEvents(_runtime, EventLevel.Verbose, keywords);
        }
    }

    protected override void OnEventSourceCreated(EventSource eventSource)
    {
        if (eventSource.Name == Runtime)
        {
            _runtime = eventSource;
            Hear(First);
        }
    }

    protected static bool Is(EventWrittenEventArgs data, string name) => data.EventName?.StartsWith(name, StringComparison.Ordinal) == true;

    protected static string Text(EventWrittenEventArgs data, string name) => Value(data, name) as string ?? "";

    protected static long Number(EventWrittenEventArgs data, string name)
        => Value(data, name) switch
        {
            ulong address => unchecked((long)address),
            IConvertible number => number.ToInt64(CultureInfo.InvariantCulture),
            _ => 0,
        };

    /// <summary>Tier of a version that was announced.</summary>
    protected static CodeTier Tier(EventWrittenEventArgs data) => Tiers[(int)(Number(data, "MethodFlags") >> TierShift) & TierMask];

    private static object? Value(EventWrittenEventArgs data, string name)
        => data.PayloadNames?.IndexOf(name) is { } index and >= 0 ? data.Payload?[index] : null;
}
