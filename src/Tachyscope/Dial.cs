namespace Tachyscope;

/// <summary>A number that the implementer may turn, such as a block size; a variant is measured at each setting.</summary>
public sealed class Dial
{
    private Dial(string name, IReadOnlyList<int> settings)
    {
        Name = name;
        Settings = settings;
    }

    /// <summary>What it sets, such as "block".</summary>
    public string Name { get; }

    /// <summary>The settings, in the order given.</summary>
    public IReadOnlyList<int> Settings { get; }

    /// <summary>A dial over settings.</summary>
    /// <param name="name">What it sets, such as "block".</param>
    /// <param name="settings">The settings, each 1 or more and listed once; at least one.</param>
    /// <remarks>Wrong settings are told with the study's other mistakes when it is run.</remarks>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Dial Over(string name, params int[] settings)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(settings);
        return new Dial(name, [.. settings]);
    }
}
