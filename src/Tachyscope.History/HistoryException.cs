namespace Tachyscope.History;

/// <summary>A history could not be used; the message says why and what to do.</summary>
/// <param name="message">A sentence with the way out.</param>
/// <param name="inner">What the store said.</param>
public sealed class HistoryException(string message, Exception? inner = null) : Exception(message, inner)
{
    /// <summary>Whether it may be usable later as it is: a server that is away, a file that others use, a disk that is full.</summary>
    public bool IsPassing { get; init; }
}
