namespace Tachyscope.Measuring;

/// <summary>A loop whose work begins or ends on other threads, and which reads the clock there.</summary>
internal interface IOwnClock
{
    /// <summary>Timestamp at which the last batch began.</summary>
    long Start { get; }

    /// <summary>Timestamp at which its last call ended.</summary>
    long End { get; }
}
