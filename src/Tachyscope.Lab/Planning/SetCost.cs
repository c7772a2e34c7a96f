namespace Tachyscope.Lab.Planning;

/// <summary>What a set of sittings costs.</summary>
/// <param name="ReadySeconds">Time until all of its sittings are ready to be read.</param>
/// <param name="LeastReadingSeconds">Time the least rounds of one sitting take.</param>
public sealed record SetCost(double ReadySeconds, double LeastReadingSeconds);
