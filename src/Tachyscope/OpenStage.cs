using Tachyscope.Measuring;

namespace Tachyscope;

/// <summary>A stage that is open; dispose of it to close it, best by <c>using</c>.</summary>
public readonly struct OpenStage : IDisposable, IEquatable<OpenStage>
{
    private readonly int _ticket;

    internal OpenStage(int ticket) => _ticket = ticket;

    /// <summary>Closes the stage.</summary>
    public void Dispose()
    {
        if (_ticket != 0)
        {
            StageRecorder.Close(_ticket);
        }
    }

    /// <inheritdoc/>
    public bool Equals(OpenStage other) => _ticket == other._ticket;

    /// <inheritdoc/>
    public override bool Equals(object? obj) => obj is OpenStage other && Equals(other);

    /// <inheritdoc/>
    public override int GetHashCode() => _ticket;

    /// <summary>Whether two are the same opening of a stage.</summary>
    /// <param name="left">One.</param>
    /// <param name="right">The other.</param>
    public static bool operator ==(OpenStage left, OpenStage right) => left.Equals(right);

    /// <summary>Whether two are different openings.</summary>
    /// <param name="left">One.</param>
    /// <param name="right">The other.</param>
    public static bool operator !=(OpenStage left, OpenStage right) => !left.Equals(right);
}
