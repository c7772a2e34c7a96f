using System.Text.Json;

namespace Tachyscope.Cli.Tests;

/// <summary>
/// A built project whose workers answer as a script says, in processes of their own: the tool runs whole, from the command line to
/// the exit code, and says the same every time. The tool's clock moves by a step whenever it is asked, so that nothing hangs on how fast
/// this machine is.
/// </summary>
internal sealed class ScriptedProject : IDisposable
{
    private static readonly string[] Parts = ["Tachyscope.Scripted.dll", "Tachyscope.Scripted.runtimeconfig.json",
        "Tachyscope.Scripted.deps.json"];

    public ScriptedProject(Script script)
    {
        var built = Path.GetDirectoryName(ToolProcess.Scripted)!;
        foreach (var part in Parts)
        {
            File.Copy(Path.Combine(built, part), Path.Combine(Folder, part));
        }

        File.WriteAllText(Path.Combine(Folder, Script.FileName), JsonSerializer.Serialize(script, Script.Options));
    }

    /// <summary>By how much the tool's clock moves when it is asked, in milliseconds; 5 by default.</summary>
    public int ClockStepMilliseconds { get; init; } = 5;

    public string Folder { get; } = Directory.CreateTempSubdirectory("tachyscope script ü").FullName;

    public string Assembly => Path.Combine(Folder, Parts[0]);

    public string Saved => Path.Combine(Folder, "run.json");

    /// <summary>How often a fault's request has come up so far.</summary>
    public long Came(int fault) => new FileInfo(Path.Combine(Folder, $"fault-{fault}")) is { Exists: true } count ? count.Length : 0;

    public Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] options) => RunAsync(CancellationToken.None, options);

    /// <summary>Runs the tool in this process on workers in theirs.</summary>
    public async Task<(int ExitCode, string Output, string Error)> RunAsync(CancellationToken cancellation, params string[] options)
        => await AskAsync(["run", Assembly, .. options], cancellation);

    public Task<(int ExitCode, string Output, string Error)> AskAsync(string[] arguments, CancellationToken cancellation = default)
        => ToolHere.RunAsync(arguments, Path.Combine(Folder, "cache"), new SteppingClock(ClockStepMilliseconds), cancellation);

    public void Dispose() => Directory.Delete(Folder, recursive: true);

    private sealed class SteppingClock(int stepMilliseconds) : TimeProvider
    {
        private long _milliseconds;

        public override long TimestampFrequency => 1_000;

        public override long GetTimestamp() => Interlocked.Add(ref _milliseconds, stepMilliseconds);

        public override DateTimeOffset GetUtcNow()
            => DateTimeOffset.UnixEpoch + TimeSpan.FromMilliseconds(Interlocked.Read(ref _milliseconds));
    }
}
