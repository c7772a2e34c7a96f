namespace Tachyscope.Answers;

internal static class ExceptionText
{
    /// <summary>Type and first line of the message: what fits into a table.</summary>
    public static string Of(Exception exception)
    {
        var actual = exception is System.Reflection.TargetInvocationException { InnerException: { } inner } ? inner : exception;
        var message = actual.Message.ReplaceLineEndings("\n");
        var end = message.IndexOf('\n', StringComparison.Ordinal);
        return $"{actual.GetType().Name}: {(end < 0 ? message : message[..end])}";
    }
}
