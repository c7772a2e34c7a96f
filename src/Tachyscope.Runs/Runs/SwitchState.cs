namespace Tachyscope.Runs;

/// <summary>A runtime switch that a target asked for.</summary>
/// <param name="Name">Its name, without the DOTNET_ prefix.</param>
/// <param name="Value">The value asked for.</param>
/// <param name="IsSeen">Whether its effect was seen in the process; false where nothing tells.</param>
sealed partial record SwitchState(string Name, string Value, bool IsSeen);
