namespace Tachyscope.Cli;

/// <summary>What the tool's exit codes mean.</summary>
internal static class ExitCode
{
    public const int Fine = 0;

    /// <summary>Answers disagree, a variant could not be measured, or the upper end of an interval lies beyond a declared limit.</summary>
    public const int Failed = 1;

    public const int WrongUse = 2;

    /// <summary>Something could not be built or run.</summary>
    public const int CouldNotRun = 3;

    /// <summary>Ended by the user; what was measured is kept.</summary>
    public const int Interrupted = 130;
}
