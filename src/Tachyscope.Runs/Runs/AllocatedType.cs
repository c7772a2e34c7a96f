namespace Tachyscope.Runs;

/// <summary>A type that an operation allocates, by samples.</summary>
sealed partial record AllocatedType
{
    /// <summary>Name of the type.</summary>
    public required string Type { get; init; }

    /// <summary>Samples it was met in; the runtime takes one about every hundred thousand bytes.</summary>
    public required int Samples { get; init; }
}
