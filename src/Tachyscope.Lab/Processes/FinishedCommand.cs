namespace Tachyscope.Lab.Processes;

/// <summary>What a command left behind.</summary>
/// <param name="ExitCode">Its exit code.</param>
/// <param name="Output">What it wrote to standard output.</param>
/// <param name="Error">What it wrote to standard error: notices and warnings come there, so it is never taken for an answer.</param>
internal sealed record FinishedCommand(int ExitCode, string Output, string Error = "")
{
    /// <summary>All it wrote, for whoever reads.</summary>
    public string All => Error.Length == 0 ? Output : $"{Output}{(Output.Length == 0 || Output.EndsWith('\n') ? "" : "\n")}{Error}";
}
