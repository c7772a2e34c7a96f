namespace Tachyscope.Runs;

/// <summary>One row of a study's tables: a variant, at a setting of its dials, in one of its parts, on a number of threads.</summary>
sealed partial record VariantDescription
{
    /// <summary>Name of the row, unique in the study, such as "blocked, block 8".</summary>
    public required string Name { get; init; }

    /// <summary>Name of the variant it belongs to, such as "blocked".</summary>
    public required string Variant { get; init; }

    /// <summary>Whether the others are compared with it.</summary>
    public bool IsBaseline { get; init; }

    /// <summary>Settings of its dials; empty without a dial.</summary>
    public IReadOnlyList<DialSetting> Settings { get; init => field = value ?? []; } = [];

    /// <summary>Which part of the variant it is.</summary>
    public VariantPart Part { get; init; }

    /// <summary>The guest it lives in; null for what the study's own worker calls.</summary>
    public GuestDescription? Guest { get; init; }

    /// <summary>The loop it is measured in, on an input of its own.</summary>
    public LoopShape Loop { get; init => field = value ?? new(); } = new();

    /// <summary>The method that is measured, as its worker knows it; null where the worker cannot tell, and in a saved run.</summary>
    public MethodPlace? Method { get; init; }

    /// <summary>Where that method is written; null where no symbols tell.</summary>
    public SourcePlace? Source { get; init; }
}
