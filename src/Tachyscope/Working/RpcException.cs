namespace Tachyscope.Working;

internal sealed class RpcException(int code, string message) : Exception(message)
{
    public int Code { get; } = code;
}
