namespace Tachyscope.Testing;

/// <summary>Something did not keep its limit; the message has the figures.</summary>
public sealed class LimitBrokenException : Exception
{
    /// <summary>Without a message.</summary>
    public LimitBrokenException()
    {
    }

    /// <summary>With the figures.</summary>
    /// <param name="message">What was asked and what was found.</param>
    public LimitBrokenException(string message)
        : base(message)
    {
    }

    /// <summary>With the figures and what they come from.</summary>
    /// <param name="message">What was asked and what was found.</param>
    /// <param name="innerException">What they come from.</param>
    public LimitBrokenException(string message, Exception innerException)
        : base(message, innerException)
    {
    }
}
