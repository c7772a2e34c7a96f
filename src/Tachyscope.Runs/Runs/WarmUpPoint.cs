using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>One point of a cell's way from its first call to rest.</summary>
[JsonConverter(typeof(WarmUpPointConverter))]
sealed partial record WarmUpPoint
{
    /// <summary>Calls made until then.</summary>
    public required long Calls { get; init; }

    /// <summary>Time since warming began, all cells' calls included, in milliseconds.</summary>
    public required double Milliseconds { get; init; }

    /// <summary>Time of one call around that point, in nanoseconds, loop included.</summary>
    public required double NanosecondsPerCall { get; init; }

    /// <summary>Bytes one call allocated around that point.</summary>
    public required double AllocatedBytesPerCall { get; init; }

    /// <summary>Methods compiled during its calls since the point before.</summary>
    public int CompiledMethods { get; init; }
}
