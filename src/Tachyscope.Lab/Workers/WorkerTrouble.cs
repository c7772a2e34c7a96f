namespace Tachyscope.Lab.Workers;

/// <summary>What can go wrong with a worker.</summary>
public enum WorkerTrouble
{
    /// <summary>It answered with an error.</summary>
    Refused,

    /// <summary>It could not be started.</summary>
    NotStarted,

    /// <summary>It ended before it answered.</summary>
    Died,

    /// <summary>It did not answer in time.</summary>
    Hung,

    /// <summary>The time of the whole run was over while it was waited for.</summary>
    OutOfTime,
}
