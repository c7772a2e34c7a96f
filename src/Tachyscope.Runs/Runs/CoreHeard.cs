namespace Tachyscope.Runs;

/// <summary>What the gauge read on one processor, one reading after the other.</summary>
sealed partial record CoreHeard
{
    /// <summary>The processor; -1 when the system did not let it be chosen.</summary>
    public required int Processor { get; init; }

    /// <summary>The gauges: time of additions that fill the core in thousandths of that of a chain that does not.</summary>
    public required IReadOnlyList<int> Gauges { get; init; }

    /// <summary>The gauge of calls beside each of them, in thousandths of a link of the chain.</summary>
    public IReadOnlyList<int> CallGauges { get; init => field = value ?? []; } = [];

    /// <summary>How long they took, in milliseconds.</summary>
    public required double Milliseconds { get; init; }
}
