namespace Tachyscope.Lab.Targets;

/// <summary>A runtime that workers can be started on.</summary>
/// <param name="Host">Path of the dotnet command that starts it.</param>
/// <param name="Version">Its exact version.</param>
public sealed record FoundRuntime(string Host, string Version);
