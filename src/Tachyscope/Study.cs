using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>One operation under study: its inputs, its variants, and the rule by which answers must agree.</summary>
/// <remarks>
/// Immutable. Mistakes in the definition are collected, not thrown, so that a project's mistakes come out together
/// when it is run.
/// </remarks>
/// <example>
/// <code>
/// Study study = Study
///     .Of("sum of tide levels")
///     .Inputs("levels", [100, 10_000], count => TideGauge.Levels(count, seed: 3))
///     .Baseline("loop", levels => Sums.ByLoop(levels))
///     .Variant("vectors", levels => Sums.ByVectors(levels))
///     .Agree(tolerance: 1e-12);
/// </code>
/// </example>
public sealed class Study
{
    internal Study(StudyBody body, StudyDescription description)
    {
        Body = body;
        Description = description;
    }

    /// <summary>Its name, unique in the project.</summary>
    public string Name => Description.Name;

    /// <summary>Its inputs and variants by name, and what is wrong with its definition.</summary>
    internal StudyDescription Description { get; }

    internal StudyBody Body { get; }

    /// <summary>Begins the definition of a study.</summary>
    /// <param name="name">What the operation does, such as "nearest beacon"; unique in the project.</param>
    /// <exception cref="ArgumentNullException"><paramref name="name"/> is null.</exception>
    public static StudyDraft Of(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        return new StudyDraft(new StudyTitle(name));
    }

    /// <summary>Begins the definition of one study of a family: the same operation over one element type.</summary>
    /// <typeparam name="TElement">The element type, such as <see cref="float"/>.</typeparam>
    /// <param name="family">What the operation does; the same for every element type.</param>
    /// <remarks>
    /// Hand the studies of a family to <see cref="Studies.RunAsync"/> one after the other; they are shown side by side at the end.
    /// </remarks>
    /// <exception cref="ArgumentNullException"><paramref name="family"/> is null.</exception>
    public static StudyDraft OfElement<TElement>(string family)
    {
        ArgumentNullException.ThrowIfNull(family);
        var element = ElementName(typeof(TElement));
        return new StudyDraft(new StudyTitle($"{family} of {element}", family, element));
    }

    // As it is written in C#, where that has a word of its own.
    private static string ElementName(Type type) => Type.GetTypeCode(type) switch
    {
        TypeCode.Int32 when !type.IsEnum => "int",
        TypeCode.Int64 when !type.IsEnum => "long",
        TypeCode.Int16 when !type.IsEnum => "short",
        TypeCode.Single => "float",
        TypeCode.String or TypeCode.Double or TypeCode.Decimal or TypeCode.Byte => type.Name.ToLowerInvariant(),
        _ => type.Name,
    };
}
