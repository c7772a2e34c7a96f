namespace Tachyscope.Protocol;

/// <summary>Names of the requests a worker answers; the protocol is described in docs/protocol.md.</summary>
static partial class WorkerMethods
{
    /// <summary>
    /// Runtime switch that workers are started with unless it is set: how much later code is optimised on a single processor.
    /// </summary>
    public const string SingleProcessorDelayVariable = "DOTNET_TC_DelaySingleProcMultiplier";

    /// <summary>
    /// Runtime switch that workers are started with unless it is set: how long the runtime waits before it begins to optimise, in
    /// milliseconds, hexadecimal.
    /// </summary>
    public const string OptimisationDelayVariable = "DOTNET_TC_CallCountingDelayMs";

    /// <summary>The wait that workers are started with.</summary>
    public const string OptimisationDelay = "A";

    /// <summary>Version of the protocol spoken here.</summary>
    public const int ProtocolVersion = 4;

    /// <summary>Environment variable that makes a study project a worker; its value is the protocol version.</summary>
    public const string WorkerVariable = "TACHYSCOPE_WORKER";

    /// <summary>Environment variable with the path of a file in which a worker may write where in the user's code it is.</summary>
    public const string WhereaboutsVariable = "TACHYSCOPE_WHEREABOUTS";

    /// <summary>
    /// Length of that file: three whole numbers of eight bytes, little-endian: a count, a <see cref="WorkerPlace"/>, an index.
    /// </summary>
    public const int WhereaboutsBytes = 24;

    /// <summary>Who are you: version and environment.</summary>
    public const string Hello = "hello";

    /// <summary>Describe your studies.</summary>
    public const string Studies = "studies";

    /// <summary>Make every input of a study once and tell what is wrong.</summary>
    public const string Inspect = "inspect";

    /// <summary>Call one variant on one input and compare its answer with the baseline's.</summary>
    public const string Check = "check";

    /// <summary>Set up the cells of a sitting and call each once.</summary>
    public const string Open = "open";

    /// <summary>Call cells until they are settled, then build their measured loops.</summary>
    public const string Warm = "warm";

    /// <summary>Take rounds of readings.</summary>
    public const string Read = "read";

    /// <summary>Look at one cell in a way that would disturb readings.</summary>
    public const string Diagnose = "diagnose";

    /// <summary>Look what runtime switches did in the process.</summary>
    public const string Effects = "effects";

    /// <summary>Listen to what the runtime's compiler decides, from the first time on, and tell what came since the last.</summary>
    public const string Hear = "hear";

    /// <summary>Compile the measured loops once more, and tell what becomes of each.</summary>
    public const string Compile = "compile";

    /// <summary>Write an input down as a guest takes it.</summary>
    public const string Input = "input";

    /// <summary>Compare what a guest answered with the baseline's answer.</summary>
    public const string Judge = "judge";

    /// <summary>Take inputs that another worker made.</summary>
    public const string Take = "take";

    /// <summary>End.</summary>
    public const string Bye = "bye";
}
