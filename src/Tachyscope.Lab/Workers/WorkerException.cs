using Tachyscope.Runs;

namespace Tachyscope.Lab.Workers;

/// <summary>A worker did not do what it was asked.</summary>
public sealed class WorkerException : Exception
{
    /// <summary>A worker that was refused a request for no stated reason.</summary>
    public WorkerException()
        : this(WorkerTrouble.Refused, "The worker refused.")
    {
    }

    /// <summary>A worker that refused a request.</summary>
    /// <param name="message">What happened, in a sentence.</param>
    public WorkerException(string message)
        : this(WorkerTrouble.Refused, message)
    {
    }

    /// <summary>A worker that refused a request.</summary>
    /// <param name="message">What happened, in a sentence.</param>
    /// <param name="innerException">What caused it.</param>
    public WorkerException(string message, Exception innerException)
        : base(message, innerException)
    {
    }

    /// <summary>A worker in trouble.</summary>
    /// <param name="trouble">What kind of trouble.</param>
    /// <param name="message">What happened, in a sentence.</param>
    /// <param name="lastLines">The last lines the worker printed.</param>
    public WorkerException(WorkerTrouble trouble, string message, IReadOnlyList<string>? lastLines = null)
        : base(message)
    {
        Trouble = trouble;
        LastLines = lastLines ?? [];
    }

    /// <summary>What kind of trouble.</summary>
    public WorkerTrouble Trouble { get; } = WorkerTrouble.Refused;

    /// <summary>The last lines the worker printed, oldest first.</summary>
    public IReadOnlyList<string> LastLines { get; } = [];

    /// <summary>Where in the user's code it was; in none of it where that is not known.</summary>
    public WorkerWhere Where { get; init; }

    /// <summary>Whether a signal ended it that others send, so that the operation need not be to blame.</summary>
    public bool IsKilled { get; init; }

    /// <summary>The failure of the cell that was being called.</summary>
    internal CellFailure ToFailure(int variant, int input, int target, string? reason = null) => new()
    {
        Target = target,
        Variant = variant,
        Input = input,
        Kind = Trouble switch
        {
            WorkerTrouble.Hung or WorkerTrouble.OutOfTime => CellFailureKind.Hung,
            WorkerTrouble.Refused => CellFailureKind.Threw,
            _ => CellFailureKind.Died,
        },
        Reason = reason ?? Message,
        LastLines = LastLines,
    };
}
