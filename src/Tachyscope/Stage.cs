using Tachyscope.Measuring;

namespace Tachyscope;

/// <summary>Marks named parts of a longer operation; each gets its own count, time and share.</summary>
/// <remarks>
/// Stages are looked at in batches of their own beside the readings. Elsewhere a mark does nothing but test whether
/// stages are looked at; what it costs is measured and told with the figures. Stages may lie inside each other and may
/// span an await; an operation that works on several threads at once cannot mark them.
/// </remarks>
/// <example>
/// <code>
/// using (Stage.Open("split"))
/// {
///     letters = signals.Split(' ');
/// }
/// </code>
/// </example>
public static class Stage
{
    /// <summary>Opens a stage, which lasts until the result is disposed of.</summary>
    /// <param name="name">Its name; the same object each time, such as a literal.</param>
    /// <exception cref="ArgumentNullException"><paramref name="name"/> is null.</exception>
    public static OpenStage Open(string name)
    {
        if (!StageRecorder.IsOn)
        {
            return default;
        }

        ArgumentNullException.ThrowIfNull(name);
        return new OpenStage(StageRecorder.Open(name));
    }
}
