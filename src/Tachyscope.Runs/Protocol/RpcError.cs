namespace Tachyscope.Protocol;

/// <summary>Why a request got no result.</summary>
sealed partial record RpcError
{
    /// <summary>The line was not JSON.</summary>
    public const int ParseError = -32700;

    /// <summary>The line was JSON but no request.</summary>
    public const int InvalidRequest = -32600;

    /// <summary>No such method.</summary>
    public const int MethodNotFound = -32601;

    /// <summary>Parameters missing or wrong.</summary>
    public const int InvalidParameters = -32602;

    /// <summary>The user's code failed where the worker could not go on.</summary>
    public const int StudyFailed = -32000;

    /// <summary>One of the codes above.</summary>
    public required int Code { get; init; }

    /// <summary>What happened, in a sentence.</summary>
    public required string Message { get; init; }
}
